import type { Schemas } from "../api/client";

export type Page = Schemas["Page"];
/** What is drawn on the paper by hand. */
export type Drawing = "" | "cut" | "enlarge" | "open" | "part";
export type Pick = Schemas["PagePick"];
export type LedgerRow = Schemas["LedgerLine"];
export type Ladder = Schemas["Ladder"];
export type Finding = Schemas["ProofFinding"];

/** States: shape first, colour second, with the word. */
export const STATES: Record<string, { mark: string; word: string }> = {
  proven: { mark: "◆", word: "proven" },
  unproven: { mark: "◇", word: "not yet proven" },
  "differs-model": { mark: "▲", word: "differs from the model" },
  differs: { mark: "▼", word: "differs from the source" },
  ambiguous: { mark: "◈", word: "in an unlikely place, or one of several" },
  "not-drawn": { mark: "□", word: "not drawn" },
  "no-place": { mark: "▽", word: "no place in the model" },
  reference: { mark: "○", word: "reference or note" },
  lost: { mark: "✕", word: "lost its geometry" },
  unread: { mark: "?", word: "line not read" },
};
