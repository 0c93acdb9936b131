import { defineStore } from "pinia";
import { api, Refusal, take, withFile, type Schemas } from "../api/client";
import { useJob } from "../state";

export type Line = Schemas["StoredLine"];
export type Flag = Schemas["Flag"];
export type Offer = Schemas["Offer"];
export type Finding = Schemas["SourceFinding"];
export type Conflict = Schemas["Conflict"];
/** The blocks of a source that are stored whole. */
interface Blocks {
  head: Record<string, string>;
  rules: Record<string, string>;
  workings: string[];
  checkpoints: string[];
  chains: { direction: string; text: string }[];
}
/** An edit of a source; see the server's `core/source/editing`. */
type Op = {
  /** The job that it was made in, whatever is open when it is sent or answered. */
  job: number;
  op: "insert" | "set" | "remove" | "move" | "put";
  id?: string;
  rev?: number;
  after?: string | null;
  line?: Partial<Line>;
  fields?: Partial<Line>;
  what?: keyof Blocks;
  value?: unknown;
};
export type Preview = Schemas["Preview"];
export type SourceRead = Schemas["SourceRead"];
export type PrintCard = Schemas["PrintCard"];
export type Worked = Schemas["Worked"];

let counter = 0;
const fresh = () => `n${Date.now().toString(36)}${(counter++).toString(36)}`;
/** Edits of a job that the server has not stored yet, as they are kept over a reload. */
const shelf = {
  key: (job: number) => `canonis.source.${job}`,
  read: (job: number): Op[] => JSON.parse(localStorage.getItem(shelf.key(job)) ?? "[]") as Op[],
  write(job: number, ops: Op[]) {
    if (ops.length) localStorage.setItem(shelf.key(job), JSON.stringify(ops));
    else localStorage.removeItem(shelf.key(job));
  },
};
const FIELDS = ["number", "where", "text", "provenance", "working", "flag"] as const;

/** The list as the browser has it: shown at once, sent in small edits, merged with what others do meanwhile. */
export const useSource = defineStore("source", {
  state: () => ({
    id: 0,
    read: null as SourceRead | null,
    lines: [] as Line[],
    queue: [] as Op[],
    /** What is on its way to the server just now. */
    sent: [] as Op[],
    sending: false,
    timer: 0,
    fault: "",
    conflicts: [] as Conflict[],
    /** Edits that the server refused: they stay on the screen, marked, and are kept over a reload. */
    refused: [] as { op: Op; message: string }[],
    /** What may come next, for the text of the line that it was asked for. */
    offers: { id: "", text: "", list: [] as Offer[] },
    at: "" as string,
    picked: [] as string[],
    asked: 0,
  }),
  getters: {
    state(s): "stored" | "storing" | "waiting" | "refused" {
      return s.sending ? "storing" : s.queue.length ? "waiting" : s.refused.length ? "refused" : "stored";
    },
    /** Why a line is not stored, where the server refused it. */
    refusal: (s) => (id: string) => s.refused.find((r) => r.op.id === id)?.message ?? "",
    findings: (s): Finding[] => s.read?.findings ?? [],
    line: (s) => s.lines.find((l) => l.id === s.at) ?? null,
    /** What may come next on the line at work. What was typed since the server was asked narrows it down. */
    offered(s): Offer[] {
      const text = this.line?.text ?? "";
      if (!this.line || s.offers.id !== this.line.id || !text.startsWith(s.offers.text)) return [];
      const since = text.slice(s.offers.text.length);
      if (!since) return s.offers.list;
      return s.offers.list
        .map((o) => ({ ...o, typed: o.typed + since }))
        .filter((o) => o.put.toUpperCase().startsWith(o.typed.toUpperCase()));
    },
    /** What a block is about to become: the newest edit of it that is waiting or on its way. */
    putting:
      (s) =>
      <K extends keyof Blocks>(what: K): Blocks[K] | undefined =>
        [...s.sent, ...s.queue].filter((o) => o.what === what).at(-1)?.value as Blocks[K] | undefined,
    /** Whether edits of a block are waiting or on their way: what the server has is older then. */
    busyWith: (s) => (what: string) => [...s.queue, ...s.sent].some((o) => o.what === what),
  },
  actions: {
    open(id: number, read: SourceRead) {
      if (this.id !== id) {
        // What is typed goes out under its own job; what the server says of it finds the shelf, not this list.
        void this.flush();
        const clean = {
          read: null,
          queue: [],
          sent: [],
          sending: false,
          conflicts: [],
          refused: [],
          fault: "",
          at: "",
          picked: [],
        };
        clearTimeout(this.timer);
        Object.assign(this, { id, ...clean, lines: [], offers: { id: "", text: "", list: [] } });
      }
      const kept = shelf.read(id).map((op) => ({ ...op, job: id }));
      if (kept.length && !this.queue.length && !this.sending) {
        // Edits typed while the server was away are sent again; those already stored do nothing.
        this.queue = kept;
        this.take(read, true);
        for (const op of this.queue) this.replay(op);
        this.later();
      } else this.take(read);
    },
    replay(op: Op) {
      if (op.op === "insert" && !this.lines.some((l) => l.id === op.id)) {
        const k = this.lines.findIndex((l) => l.id === op.after);
        this.lines.splice(k + 1, 0, this.blank(op.id!, op.line));
      } else if (op.op === "set") {
        const line = this.lines.find((l) => l.id === op.id);
        if (line) Object.assign(line, op.fields);
      } else if (op.op === "remove") this.lines = this.lines.filter((l) => l.id !== op.id);
    },
    blank(id: string, given: Partial<Line> = {}): Line {
      return {
        id,
        rev: 1,
        number: "",
        where: "",
        text: "",
        provenance: "read",
        working: "",
        flag: null,
        words: "",
        error: null,
        kind: "note",
        tolerance: "",
        basic: false,
        detail: "",
        from: "",
        general: false,
        name: "",
        typical: false,
        count: 1,
        reference: false,
        parts: [],
        ...given,
      };
    },
    /** Merge what the server has; lines with edits of our own on the way keep them. */
    take(read: SourceRead, all = false) {
      // An answer that was overtaken on its way would take back what has been stored since.
      if (read.version < (this.read?.version ?? 0)) return;
      this.read = read;
      useJob().tookSource(read, this.id);
      const own = [...this.sent, ...this.queue, ...this.refused.map((r) => r.op)];
      const dirty = new Set(all ? [] : own.map((op) => op.id));
      const mine = new Map(this.lines.map((l) => [l.id, l]));
      const theirs = read.lines.map((l) => {
        const own = mine.get(l.id);
        if (!own) return l;
        if (dirty.has(l.id)) return own;
        return Object.assign(own, l);
      });
      const moved = this.queue.some((op) => op.op !== "set" && op.op !== "put");
      if (all || !moved) {
        const have = new Set(theirs.map((l) => l.id));
        const unsent = all ? [] : this.lines.filter((l) => !have.has(l.id) && dirty.has(l.id));
        this.lines = [...theirs, ...unsent];
      }
    },
    /** Keep what is not stored yet over a reload. */
    keep() {
      shelf.write(this.id, [...this.refused.map((r) => r.op), ...this.sent, ...this.queue]);
    },
    /** What an edit is made on: what the server has of its line or block, as whoever makes it sees it now. */
    baseOf(op: Omit<Op, "job">): number | undefined {
      if (op.op === "put") return this.read?.revs[op.what!] ?? 0;
      return op.op === "insert" ? undefined : this.lines.find((l) => l.id === op.id)?.rev;
    },
    push(given: Omit<Op, "job">) {
      let op: Op = { ...given, job: this.id, rev: given.rev ?? this.baseOf(given) };
      // A refused edit of the same line or block is tried again with what is typed now.
      const before = this.refused.filter((r) => (op.id ? r.op.id === op.id : r.op.what === op.what));
      this.refused = this.refused.filter((r) => !before.includes(r));
      for (const { op: old } of before) {
        if (op.op === "remove") continue;
        if (old.op === "insert") op = { ...old, line: { ...old.line, ...op.fields } };
        else if (old.op === "set" && op.op === "set") op = { ...op, fields: { ...old.fields, ...op.fields } };
      }
      const last = this.queue.find((o) => o.op === "set" && op.op === "set" && o.id === op.id);
      const made = this.queue.find((o) => o.op === "insert" && op.op === "set" && o.id === op.id);
      const put = this.queue.findIndex((o) => o.op === "put" && op.op === "put" && o.what === op.what);
      if (made) made.line = { ...made.line, ...op.fields };
      else if (last) last.fields = { ...last.fields, ...op.fields };
      else if (put >= 0) this.queue[put] = op;
      else this.queue.push(op);
      this.keep();
      this.later();
    },
    later(wait = 350) {
      clearTimeout(this.timer);
      this.timer = window.setTimeout(() => void this.flush(), wait);
    },
    async flush() {
      if (this.sending || !this.queue.length) return;
      const of = this.id;
      this.sending = true;
      this.fault = "";
      const sent = this.queue;
      this.sent = sent;
      this.queue = [];
      // eslint-disable-next-line @typescript-eslint/no-unused-vars
      const ops = sent.map(({ job, ...op }) => op);
      try {
        const done = await take(
          api.POST("/api/jobs/{job_id}/source/edits", { params: { path: { job_id: of } }, body: { ops } }),
        );
        if (this.id !== of) {
          // Another job is open, this one's list is not: what was refused, or clashes, waits on the shelf for whoever
          // opens it again.
          const left = new Set(done.refused.map((r) => r.index));
          const clashes = (op: Op) => done.conflicts.some((c) => (op.id ? c.id === op.id : c.what === op.what));
          shelf.write(
            of,
            sent.filter((op, k) => left.has(k) || clashes(op)),
          );
          useJob().tookSource(done.source, of);
          return;
        }
        // Revs of lines edited again meanwhile move on, or the next edit would look like a conflict with our own.
        const revs = new Map(done.source.lines.map((l) => [l.id, l]));
        for (const op of this.queue)
          if (sent.some((s) => (op.id ? s.id === op.id : s.what === op.what)))
            op.rev = op.op === "put" ? (done.source.revs[op.what!] ?? 0) : (revs.get(op.id!)?.rev ?? op.rev);
        for (const line of this.lines) {
          const stored = revs.get(line.id);
          if (stored) Object.assign(line, { rev: stored.rev, number: line.number || stored.number });
        }
        this.sent = [];
        this.refuse(done.refused.map((r) => ({ op: sent[r.index], message: r.message })));
        this.conflicts.push(...done.conflicts);
        this.take(done.source);
      } catch (refusal) {
        if (this.id !== of) return; // on the shelf of its job
        this.fault = (refusal as Error).message;
        const away = refusal instanceof Refusal && (refusal.status === 0 || refusal.status === 503);
        if (away) {
          this.queue = [...sent, ...this.queue];
          this.later(2500);
        } else this.refuse(sent.map((op) => ({ op, message: this.fault })));
      } finally {
        if (this.id === of) {
          this.sending = false;
          this.sent = [];
          this.keep();
          if (this.queue.length && !this.fault) this.later(50);
        }
      }
    },
    refuse(found: { op: Op; message: string }[]) {
      // Typed again meanwhile: the newer edit goes its own way.
      const fresh = found.filter((r) => !this.queue.some((o) => (r.op.id ? o.id === r.op.id : o.what === r.op.what)));
      this.refused.push(...fresh);
      if (fresh.length) this.fault = fresh[0].message;
    },
    async refresh() {
      if (this.sending) return;
      const of = this.id;
      const read = await take(api.GET("/api/jobs/{job_id}/source", { params: { path: { job_id: of } } })).catch(
        () => null,
      );
      if (read && this.id === of && !this.sending) this.take(read);
    },
    edit(line: Line, fields: Partial<Line>) {
      Object.assign(line, fields);
      this.push({ op: "set", id: line.id, fields });
      if ("text" in fields) void this.preview(line);
    },
    async preview(line: Line) {
      const ticket = ++this.asked;
      const of = this.id;
      const text = line.text;
      const read = await take(
        api.POST("/api/jobs/{job_id}/read-line", { params: { path: { job_id: this.id } }, body: { text } }),
      ).catch(() => null);
      if (!read || ticket !== this.asked || this.id !== of) return;
      Object.assign(line, { words: read.words, error: read.error ?? null, kind: read.kind, tolerance: read.tolerance });
      this.offers = { id: line.id, text, list: read.offers ?? [] };
    },
    insert(after: string | null, given: Partial<Line> = {}): Line {
      const id = fresh();
      const line = this.blank(id, {
        number: String(1 + Math.max(0, ...this.lines.map((l) => Number(l.number) || 0))),
        ...given,
      });
      const k = this.lines.findIndex((l) => l.id === after);
      this.lines.splice(after ? k + 1 : 0, 0, line);
      const own = Object.fromEntries(FIELDS.map((f) => [f, line[f]]));
      this.push({ op: "insert", id, after, line: own });
      if (line.text) void this.preview(this.lines.find((l) => l.id === id)!);
      return line;
    },
    /** Each line of a pasted text becomes a line, after the one that was pasted into; three cells are number, place and text. */
    paste(text: string, into?: Line) {
      let after = into?.id ?? this.lines.at(-1)?.id ?? null;
      let first = !!into && !into.text;
      for (const row of text.split(/\r?\n/).filter((t) => t.trim())) {
        const cells = row.split(/\||\t/).map((c) => c.trim());
        const given: Partial<Line> =
          cells.length > 2
            ? { number: cells[0], where: cells[1], text: cells[2] }
            : { where: into?.where ?? "", text: cells.at(-1) ?? "" };
        if (first && into) this.edit(into, given);
        else after = this.insert(after, given).id;
        first = false;
      }
    },
    remove(ids: string[]) {
      for (const id of ids) {
        const waiting = this.queue.findIndex((o) => o.op === "insert" && o.id === id);
        const never = waiting >= 0 || this.refused.some((r) => r.op.id === id && r.op.op === "insert");
        this.queue = this.queue.filter((o) => o.id !== id);
        this.refused = this.refused.filter((r) => r.op.id !== id);
        if (!never) this.push({ op: "remove", id, rev: this.lines.find((l) => l.id === id)?.rev });
      }
      this.lines = this.lines.filter((l) => !ids.includes(l.id));
      this.picked = [];
      this.keep();
    },
    move(line: Line, by: number) {
      const k = this.lines.indexOf(line);
      const to = k + by;
      if (to < 0 || to >= this.lines.length) return;
      this.lines.splice(k, 1);
      this.lines.splice(to, 0, line);
      this.push({ op: "move", id: line.id, after: to ? this.lines[to - 1].id : null });
    },
    put<K extends keyof Blocks>(what: K, value: Blocks[K]) {
      this.push({ op: "put", what, value });
    },
    settle(conflict: Conflict, mine: boolean) {
      this.conflicts = this.conflicts.filter((c) => c !== conflict);
      if (!mine) return;
      if (conflict.op === "put") this.push({ op: "put", what: conflict.what as keyof Blocks, value: conflict.yours });
      else if (conflict.op === "remove") this.remove([conflict.id!]);
      else {
        const line = this.lines.find((l) => l.id === conflict.id);
        if (line) this.edit(line, conflict.yours as Partial<Line>);
        else this.insert(this.lines.at(-1)?.id ?? null, conflict.yours as Partial<Line>);
      }
    },
    async workOut(text: string): Promise<Worked> {
      const made = await take(
        api.POST("/api/jobs/{job_id}/work-out", { params: { path: { job_id: this.id } }, body: { text } }),
      );
      // A half-typed expression is no failure of the request: its reason comes beside the missing value.
      if (made.fault) throw new Refusal(made.fault, 422);
      return made;
    },
    /** Take over a list that somebody brings; where lines would go, `agreed` is asked with what comes and goes. */
    async bringList(file: File, agreed: (seen: Preview) => Promise<boolean>) {
      const of = this.id;
      const path = { job_id: of };
      await this.flush();
      const seen = await take(api.POST("/api/jobs/{job_id}/source/preview", { params: { path }, ...withFile(file) }));
      if (seen.asks && !(await agreed(seen))) return;
      const params = { path, query: { replace: seen.asks } };
      const read = await take(api.POST("/api/jobs/{job_id}/source/import", { params, ...withFile(file) }));
      if (this.id === of) this.take(read, true);
    },
    /** The list as it stood before the last one came. */
    async takeBack() {
      const of = this.id;
      await this.flush();
      const read = await take(api.POST("/api/jobs/{job_id}/source/take-back", { params: { path: { job_id: of } } }));
      if (this.id === of) this.take(read, true);
    },
    async bringPrint(file: File) {
      const params = { path: { job_id: this.id } };
      return take(api.POST("/api/jobs/{job_id}/prints", { params, ...withFile(file) }));
    },
  },
});
