/** A compiled page as the server sends it; paper mm, y down. */
export interface Page {
  number: number;
  size: string;
  width: number;
  height: number;
  strokes: { o: string; s: string; w: number; dash: number[]; d: string }[];
  regions: { o: string; d: string }[];
  texts: { o: string; t: string; x: number; y: number; h: number; a: number }[];
  views: { id: string; kind: string; hidden: boolean; scale: number; box: [number, number, number, number] }[];
  picks: Pick[];
}

export interface Pick {
  view: string;
  kind: "edge" | "point" | "centre";
  ref: string;
  p: number[];
}

export interface LedgerRow {
  key: string;
  kind: "characteristic" | "statement" | "mass";
  number: string;
  text: string;
  words?: string;
  where?: string;
  source: string | null;
  drawn: string | null;
  model: string | null;
  difference: string | null;
  state: string;
  statements: string[];
  how?: string;
  change?: string;
}

/** The levels of a part along one direction, and the statements between them; see the proof. */
export interface Ladder {
  sheet: number;
  direction: string;
  rungs: { value: number; words: string; fixed: boolean; datum: boolean }[];
  links: { statement: string; first: number; second: number; twice: boolean; reference: boolean }[];
}

export interface Finding {
  id: string;
  /** The finding that this one follows from. */
  under?: string;
  rule: string;
  severity: string;
  subject: string;
  message: string;
}

export interface Proof {
  summary: { proven: number; unproven: number; contradicted: number };
  findings: Finding[];
  complete: { ok: boolean; free: string[]; redundant: string[] };
  drawn_level?: string[];
  ledger: LedgerRow[];
  ladders: Ladder[];
  mass: { mass_g: number | null; centroid_mm: number[]; volume_mm3: number };
  links: Record<string, string | null>;
  version: number;
}

/** States: shape first, colour second, with the word. */
export const STATES: Record<string, { mark: string; word: string }> = {
  proven: { mark: "◆", word: "proven" },
  unproven: { mark: "◇", word: "not yet proven" },
  "differs-model": { mark: "▲", word: "differs from the model" },
  "differs-source": { mark: "▼", word: "differs from the source" },
  reference: { mark: "○", word: "reference" },
  lost: { mark: "✕", word: "lost its geometry" },
  unread: { mark: "◇", word: "line not read" },
};
