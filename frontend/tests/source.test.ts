import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { useSource, type Line, type SourceRead } from "../src/source/store";

// The API's client takes hold of `fetch` when it is loaded, before this file runs.
const answers = vi.hoisted(() => {
  const held: { fetch: (request: Request) => Promise<Response> } = { fetch: async () => new Response() };
  vi.stubGlobal("fetch", (request: Request) => held.fetch(request));
  return held;
});

type Op = { op: string; id?: string; what?: string; fields?: Partial<Line>; line?: Partial<Line>; rev?: number };

/** A server with a list of lines that refuses the text “bad”, is away when told to be, and takes its time for an edit. */
const server = { lines: [] as Line[], away: false, sent: [] as Op[][], to: [] as number[], version: 1, wait: 0 };

function line(id: string, text: string, rev = 1): Line {
  return { id, rev, number: "1", where: "", text, provenance: "read", working: "", flag: null, words: "", error: null,
           kind: "length", tolerance: "" }; // prettier-ignore
}
/** The source of a job: lines x and y are those of the second. */
function read(job = 1): SourceRead {
  return {
    version: server.version,
    lines: server.lines.filter((l) => ["x", "y"].includes(l.id) === (job === 2)).map((l) => ({ ...l })),
    revs: {},
    findings: [],
    prints: [],
  } as never;
}
function store(job: number, ops: Op[]) {
  const refused: { index: number; id?: string; message: string }[] = [];
  ops.forEach((op, index) => {
    const text = op.fields?.text ?? op.line?.text;
    if (text === "bad") refused.push({ index, id: op.id, message: "The text cannot be stored." });
    else if (op.op === "insert") server.lines.push({ ...line(op.id!, ""), ...op.line });
    else if (op.op === "set") {
      const l = server.lines.find((x) => x.id === op.id)!;
      Object.assign(l, op.fields, { rev: l.rev + 1 });
    }
  });
  return { source: read(job), conflicts: [], refused };
}
answers.fetch = async (request: Request) => {
  if (server.away) throw new TypeError("away");
  if (!request.url.endsWith("/source/edits"))
    return Response.json({ words: "", error: null, kind: "length", offers: [] });
  const body = (await request.json()) as { ops: Op[] };
  server.sent.push(body.ops);
  const job = Number(new URL(request.url).pathname.split("/")[3]);
  server.to.push(job);
  if (server.wait) await new Promise((r) => setTimeout(r, server.wait));
  if (server.away) throw new TypeError("away");
  return Response.json(store(job, body.ops));
};
vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
const settle = async (ms = 400) => {
  for (let k = 0; k < 10; k++) {
    await vi.advanceTimersByTimeAsync(ms / 10);
    await new Promise((r) => setImmediate(r));
  }
};

beforeEach(() => {
  Object.assign(server, {
    lines: [line("a", "96"), line("b", "R6")],
    away: false,
    sent: [],
    to: [],
    version: 1,
    wait: 0,
  });
  localStorage.clear();
  setActivePinia(createPinia());
});

describe("a refused line", () => {
  it("takes no other with it, stays on the screen and is never called stored", async () => {
    const source = useSource();
    source.open(1, read());
    source.edit(source.lines[0], { text: "bad" });
    source.edit(source.lines[1], { text: "R7" });
    await settle();
    expect(server.lines.map((l) => l.text)).toEqual(["96", "R7"]);
    expect(source.lines.map((l) => l.text)).toEqual(["bad", "R7"]);
    expect(source.state).toBe("refused");
    expect(source.refusal("a")).toContain("cannot be stored");
    expect(source.refusal("b")).toBe("");
  });

  it("survives a reload and an answer of the server, and is stored once it is mended", async () => {
    const source = useSource();
    source.open(1, read());
    source.edit(source.lines[0], { text: "bad", where: "front" });
    await settle();
    setActivePinia(createPinia());
    const again = useSource();
    again.open(1, read());
    expect(again.lines[0].text).toBe("bad");
    await settle();
    again.take(read());
    expect([again.lines[0].text, again.state]).toEqual(["bad", "refused"]);
    again.edit(again.lines[0], { text: "97" });
    await settle();
    expect(server.lines[0]).toMatchObject({ text: "97", where: "front" });
    expect(again.state).toBe("stored");
    expect(localStorage.length).toBe(0);
  });

  it("that was new is inserted when it is mended", async () => {
    const source = useSource();
    source.open(1, read());
    const fresh = source.insert("b", { text: "bad" });
    await settle();
    expect(server.lines).toHaveLength(2);
    source.edit(
      source.lines.find((l) => l.id === fresh.id)!,
      { text: "⌀5" },
    );
    await settle();
    expect(server.lines[2]).toMatchObject({ id: fresh.id, text: "⌀5" });
  });
});

describe("while the server is away", () => {
  it("keeps what is typed, in order, and sends it when it is back", async () => {
    const source = useSource();
    source.open(1, read());
    server.away = true;
    source.edit(source.lines[0], { text: "97" });
    await settle();
    source.edit(source.lines[1], { text: "R8" });
    await settle();
    expect(source.state).toBe("waiting");
    server.away = false;
    await settle(3000);
    expect(server.lines.map((l) => l.text)).toEqual(["97", "R8"]);
    expect(source.state).toBe("stored");
  });

  it("merges two edits of one line into one", async () => {
    const source = useSource();
    source.open(1, read());
    source.edit(source.lines[0], { text: "9" });
    source.edit(source.lines[0], { text: "97" });
    await settle();
    expect(server.sent.flat()).toHaveLength(1);
  });
});

describe("a line that two people changed", () => {
  const conflict = (yours: Partial<Line> | Record<string, unknown>, more: object = {}) => ({
    op: "set",
    id: "a",
    number: "1",
    yours,
    theirs: { text: "97" },
    message: "Someone changed line 1 meanwhile.",
    ...more,
  });

  it("takes mine when I say so, and theirs when I do not", async () => {
    const source = useSource();
    source.open(1, read());
    source.conflicts = [conflict({ text: "98" }), conflict({ text: "99" })] as never;
    source.settle(source.conflicts[0], false);
    await settle();
    expect(server.lines[0].text).toBe("96");
    source.settle(source.conflicts[0], true);
    await settle();
    expect(server.lines[0].text).toBe("99");
    expect(source.conflicts).toEqual([]);
  });

  it("is inserted anew when the other deleted it", async () => {
    const source = useSource();
    source.open(1, read());
    source.conflicts = [conflict({ text: "12" }, { id: "gone", theirs: null })] as never;
    source.settle(source.conflicts[0], true);
    await settle();
    expect(server.lines.map((l) => l.text)).toEqual(["96", "R6", "12"]);
  });
});

describe("what the browser sends", () => {
  it("is one edit for a line typed in many strokes, inserted and all", async () => {
    const source = useSource();
    source.open(1, read());
    const fresh = source.insert("b");
    const line = source.lines.find((l) => l.id === fresh.id)!;
    for (const text of ["4", "4x", "4x ⌀", "4x ⌀6"]) source.edit(line, { text });
    await settle();
    expect(server.sent.flat().filter((o) => o.id === fresh.id)).toHaveLength(1);
    expect(server.lines[2]).toMatchObject({ text: "4x ⌀6", number: "2" });
  });

  it("is nothing for a line inserted and removed before it went out", async () => {
    const source = useSource();
    source.open(1, read());
    const fresh = source.insert("b", { text: "5" });
    source.remove([fresh.id]);
    await settle();
    expect(server.sent.flat()).toEqual([]);
    expect(source.lines).toHaveLength(2);
    expect(localStorage.length).toBe(0);
  });

  it("keeps its order when edits come while others are on their way", async () => {
    const source = useSource();
    source.open(1, read());
    source.edit(source.lines[0], { text: "1" });
    await vi.advanceTimersByTimeAsync(360);
    source.edit(source.lines[0], { text: "2" });
    source.edit(source.lines[1], { text: "R9" });
    await settle();
    await settle();
    expect(server.lines.map((l) => l.text)).toEqual(["2", "R9"]);
    expect(source.state).toBe("stored");
  });

  it("is not lost by a reload in the middle of it", async () => {
    const source = useSource();
    source.open(1, read());
    source.edit(source.lines[1], { text: "R11" });
    setActivePinia(createPinia());
    const again = useSource();
    again.open(1, read());
    expect(again.lines[1].text).toBe("R11");
    await settle();
    expect(server.lines[1].text).toBe("R11");
  });

  it("belongs to its job: another job sends nothing of it", async () => {
    const source = useSource();
    source.open(1, read());
    server.away = true;
    source.edit(source.lines[0], { text: "97" });
    await settle();
    server.away = false;
    source.open(2, read());
    await settle(3000);
    expect(source.lines[0].text).toBe("96");
    source.open(1, read());
    expect(source.lines[0].text).toBe("97");
    await settle(3000);
    expect(server.lines[0].text).toBe("97");
  });
});

describe("what may come next", () => {
  const thru = { put: "THRU", says: "through", typed: "t" };
  const thick = { put: "THICK", says: "thickness", typed: "t" };

  it("is narrowed down by what was typed since it was asked for", () => {
    const source = useSource();
    source.lines = [line("a", "4x ⌀6.6 t")];
    source.at = "a";
    source.offers = { id: "a", text: "4x ⌀6.6 t", list: [thick, thru] };
    expect(source.offered.map((o) => o.typed)).toEqual(["t", "t"]);
    source.lines[0]!.text = "4x ⌀6.6 thr";
    // Taking it replaces all three letters, not the one that the server knew of.
    expect(source.offered).toEqual([{ ...thru, typed: "thr" }]);
  });

  it("is nothing for another line or another text", () => {
    const source = useSource();
    source.lines = [line("a", "4x ⌀6.6 t"), line("b", "9")];
    source.at = "b";
    source.offers = { id: "a", text: "4x ⌀6.6 t", list: [thru] };
    expect(source.offered).toEqual([]);
    source.at = "a";
    source.lines[0]!.text = "R4";
    expect(source.offered).toEqual([]);
  });
});

describe("another job that is opened while an answer is on its way", () => {
  beforeEach(() => server.lines.push(line("x", "40"), line("y", "R2")));

  it("never shows the lines of the first, and its edits go to itself", async () => {
    const source = useSource();
    source.open(1, read());
    server.wait = 200;
    source.edit(source.lines[0], { text: "97" });
    await vi.advanceTimersByTimeAsync(360);
    expect(source.state).toBe("storing");
    source.open(2, read(2));
    source.edit(source.lines[0], { text: "41" });
    await settle(1200);
    expect(source.lines.map((l) => l.id)).toEqual(["x", "y"]);
    expect([source.id, source.lines[0].text]).toEqual([2, "41"]);
    expect(server.to).toEqual([1, 2]);
    expect(server.sent.map((ops) => ops[0].id)).toEqual(["a", "x"]);
    expect(localStorage.length).toBe(0);
  });

  it("does not get its edits when the server was away for them", async () => {
    const source = useSource();
    source.open(1, read());
    server.wait = 200;
    source.edit(source.lines[0], { text: "97" });
    await vi.advanceTimersByTimeAsync(360);
    server.away = true;
    source.open(2, read(2));
    await settle(3000);
    server.away = false;
    await settle(6000);
    // Nothing of the first went out under the second; it waits for whoever opens the first again.
    expect(server.to).toEqual([1]);
    expect(source.state).toBe("stored");
    server.wait = 0;
    source.open(1, read());
    await settle();
    expect([server.to, server.lines[0].text]).toEqual([[1, 1], "97"]);
    expect(localStorage.length).toBe(0);
  });

  it("leaves what was refused to whoever opens the first again", async () => {
    const source = useSource();
    source.open(1, read());
    server.wait = 100;
    source.edit(source.lines[0], { text: "bad" });
    await vi.advanceTimersByTimeAsync(360);
    source.open(2, read(2));
    await settle(1000);
    expect([source.state, source.refused]).toEqual(["stored", []]);
    server.wait = 0;
    source.open(1, read());
    expect(source.lines[0].text).toBe("bad");
    await settle();
    expect(source.state).toBe("refused");
  });

  it("is not typed into by an answer about the first", async () => {
    const source = useSource();
    source.open(1, read());
    const asked = source.refresh();
    source.open(2, read(2));
    await asked;
    expect(source.lines.map((l) => l.id)).toEqual(["x", "y"]);
  });
});

describe("an edit says what it was made on", () => {
  it("also when others changed the line before a reload sends it again", async () => {
    const source = useSource();
    source.open(1, read());
    server.away = true;
    source.edit(source.lines[0], { text: "97" });
    await settle();
    server.away = false;
    Object.assign(server.lines[0], { text: "95", rev: 8 });
    setActivePinia(createPinia());
    useSource().open(1, read());
    await settle();
    expect(server.sent.flat()[0]).toMatchObject({ id: "a", rev: 1 });
  });
});
