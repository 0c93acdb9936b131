import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { queries } from "../src/api/queries";
import { useJob } from "../src/state";

type Sheet = { version: number; can_undo: boolean; can_redo: boolean; pages: never[]; of: number };

/** A server with a sheet for each job; an edit of what somebody else changed meanwhile is refused, as the real one does. */
const server = vi.hoisted(() => {
  const made = {
    versions: {} as Record<number, number>,
    log: [] as string[],
    proofs: 0,
    wait: 1,
    /** How long the next proofs take, ms. */
    proving: [] as number[],
    /** The statement that somebody else changed. */
    taken: "",
    role: "drafter" as string | null,
    away: false,
    /** The next answer to an edit is lost on its way. */
    lost: false,
    tokens: [] as string[],
    /** What the steps back and forward said they were made on. */
    steps: [] as { version: number; token: string; mine: string[] }[],
    edits: [] as { version: number; token: string; mine: string[] }[],
  };
  const sheet = (job: number): Sheet => ({
    version: made.versions[job],
    can_undo: made.versions[job] > 1,
    can_redo: false,
    pages: [],
    of: job,
  });
  const answer = async (request: Request): Promise<Response> => {
    const url = new URL(request.url);
    const [, , , id, what, step] = url.pathname.split("/");
    const job = Number(id);
    if (url.pathname === "/api/session") return Response.json({ name: "somebody", role: made.role, demo: [] });
    if (!what)
      return Response.json({
        id: job,
        model_id: 1,
        sheet_version: 1,
        tasks: [],
        source: { version: 1, lines: [] },
      });
    if (what === "remarks" || what === "solid") return Response.json([]);
    if (what === "proof") {
      made.proofs++;
      const version = made.versions[job];
      await new Promise((r) => setTimeout(r, made.proving.shift() ?? 0));
      return Response.json({ ledger: [], findings: [], version, of: job });
    }
    if (what === "sheet" && request.method === "GET") return Response.json(sheet(job));
    if (made.away) throw new TypeError("away");
    if (step === "edits") {
      const body = (await request.json()) as {
        version: number;
        token: string;
        mine: string[];
        command: { op: string; id?: string };
      };
      made.edits.push(body);
      if (made.tokens.includes(body.token)) return Response.json(sheet(job));
      made.tokens.push(body.token);
      await new Promise((r) => setTimeout(r, made.wait));
      if (body.version !== made.versions[job] && body.command.id === made.taken)
        return Response.json({ detail: "checker moved it meanwhile" }, { status: 409 });
      if (body.command.id === "gone") return Response.json({ detail: "That statement is gone." }, { status: 422 });
      made.versions[job]++;
      made.log.push(`${job}:${body.command.op}:${body.command.id}`);
      if (made.lost) {
        made.lost = false;
        throw new TypeError("away");
      }
      return Response.json(sheet(job));
    }
    const body = (await request.json()) as { version: number; token: string; mine: string[] };
    made.steps.push(body);
    if (made.tokens.includes(body.token)) return Response.json(sheet(job));
    made.tokens.push(body.token);
    made.versions[job]++;
    made.log.push(`${job}:${step}`);
    if (made.lost) {
      made.lost = false;
      throw new TypeError("away");
    }
    return Response.json(sheet(job));
  };
  vi.stubGlobal("fetch", (request: Request) => answer(request));
  return made;
});

class FakeStream {
  static last: FakeStream;
  listeners: Record<string, () => void> = {};
  closed = false;
  onmessage: ((event: { data: string }) => void) | null = null;
  constructor(readonly url: string) {
    FakeStream.last = this;
  }
  addEventListener(name: string, work: () => void) {
    this.listeners[name] = work;
  }
  close() {
    this.closed = true;
  }
}
vi.stubGlobal("EventSource", FakeStream);

function opened(id = 5) {
  const store = useJob();
  store.id = id;
  store.sheet = { version: server.versions[id], can_undo: true, can_redo: false, pages: [] } as never;
  return store;
}
const move = (id: string) => ({ op: "move" as const, id, dx: 1, dy: 0 });

beforeEach(() => {
  Object.assign(server, {
    versions: { 5: 1, 6: 1 },
    log: [],
    proofs: 0,
    wait: 1,
    proving: [],
    taken: "",
    role: "drafter",
    away: false,
    lost: false,
    tokens: [],
    steps: [],
    edits: [],
  });
  sessionStorage.clear();
  queries.clear();
  setActivePinia(createPinia());
});

describe("edits of a sheet", () => {
  it("made in quick succession all arrive, in their order", async () => {
    const store = opened();
    await Promise.all([store.edit(move("D1")), store.edit(move("D2")), store.edit(move("D3"))]);
    expect(server.log).toEqual(["5:move:D1", "5:move:D2", "5:move:D3"]);
    expect(store.sheet?.version).toBe(4);
    expect(store.notice).toBe("");
  });

  it("stand beside what somebody else did meanwhile", async () => {
    const store = opened();
    server.versions[5] = 40;
    await store.edit(move("D1"));
    expect(store.sheet?.version).toBe(41);
  });

  it("of what somebody else changed are told with the name, and the present sheet is shown", async () => {
    const store = opened();
    Object.assign(server, { taken: "D1" });
    server.versions[5] = 40;
    await store.edit(move("D1"));
    expect(store.notice).toBe("checker moved it meanwhile");
    expect(server.log).toEqual([]);
    expect(store.sheet?.version).toBe(40);
  });

  it("never leave the verdict of an older sheet standing as the present one", async () => {
    const store = opened();
    server.proving = [40, 1];
    await store.edit(move("D1"));
    expect(store.current).toBe(false);
    await store.edit(move("D2"));
    await new Promise((r) => setTimeout(r, 60));
    expect(store.proof?.version).toBe(3);
    expect(store.current).toBe(true);
    expect(store.proving).toBe(false);
  });

  it("and answers for a job that was left do not show in the next one", async () => {
    const store = opened(5);
    server.proving = [30, 1];
    await new Promise((r) => setTimeout(r, 5));
    opened(6);
    expect(store.proof).toBeNull();
    await new Promise((r) => setTimeout(r, 60));
    expect((store.proof as unknown as { of: number }).of).toBe(6);
    expect((store.sheet as unknown as Sheet).of).toBeUndefined();
  });

  it("that are refused say why and stop no other", async () => {
    const store = opened();
    await Promise.all([store.edit(move("D1")), store.edit(move("gone")), store.edit(move("D2"))]);
    expect(server.log).toEqual(["5:move:D1", "5:move:D2"]);
    expect(store.notice).toBe("That statement is gone.");
  });

  it("and undo keep their order", async () => {
    const store = opened();
    await Promise.all([store.edit(move("D1")), store.undo(), store.edit(move("D2"))]);
    expect(server.log).toEqual(["5:move:D1", "5:undo", "5:move:D2"]);
  });

  it("of a job that was left do not show in the next one", async () => {
    const store = opened(5);
    server.wait = 20;
    const late = store.edit(move("D1"));
    store.id = 6;
    store.sheet = { version: 1, can_undo: false, can_redo: false, pages: [], of: 6 } as never;
    await late;
    expect((store.sheet as unknown as Sheet).of).toBe(6);
    expect(store.sheet?.version).toBe(1);
    server.wait = 1;
    await store.edit(move("D9"));
    expect(server.log).toEqual(["5:move:D1", "6:move:D9"]);
  });

  it("made while the server is away go out in order when it is back", async () => {
    const store = opened();
    server.away = true;
    const all = Promise.all([store.edit(move("D1")), store.undo(), store.edit(move("D2"))]);
    await new Promise((r) => setTimeout(r, 30));
    expect(store.pending).toBe(3);
    expect(store.away).toBe(true);
    server.away = false;
    await all;
    expect(server.log).toEqual(["5:move:D1", "5:undo", "5:move:D2"]);
    expect(store.away).toBe(false);
    expect(sessionStorage.getItem("canonis.steps") ?? "{}").toBe("{}");
  });

  it("whose answer was lost on its way are not made twice", async () => {
    const store = opened();
    server.lost = true;
    await store.edit(move("D1"));
    expect(server.log).toEqual(["5:move:D1"]);
    expect(store.sheet?.version).toBe(2);
  });

  it("say what they were made on, not what there is when they are sent", async () => {
    const store = opened();
    await Promise.all([store.edit(move("D1")), store.edit(move("D2")), store.undo()]);
    const [first, second] = server.edits;
    expect([first.version, second.version, server.steps[0].version]).toEqual([1, 1, 1]);
    expect([first.mine, second.mine]).toEqual([[], [first.token]]);
    expect(server.steps[0].mine).toEqual([first.token, second.token]);
  });

  it("and a step back whose answer was lost is taken once, after a reload too", async () => {
    const before = opened();
    server.lost = true;
    await before.undo();
    expect(server.log).toEqual(["5:undo"]);
    server.away = true;
    void before.undo();
    await new Promise((r) => setTimeout(r, 20));
    const kept = sessionStorage.getItem("canonis.steps")!;
    server.away = false;
    await vi.waitFor(() => expect(server.log).toHaveLength(2), 3000);
    // The answer never reached the page that is loaded anew: it sends the same step again.
    queries.clear();
    sessionStorage.setItem("canonis.steps", kept);
    setActivePinia(createPinia());
    const store = opened();
    await vi.waitFor(() => expect(server.steps).toHaveLength(4), 3000);
    await vi.waitFor(() => expect(store.pending).toBe(0), 3000);
    expect(server.log).toEqual(["5:undo", "5:undo"]);
  });

  it("ask for the proof once the last of them is through", async () => {
    const store = opened();
    await Promise.all([store.edit(move("D1")), store.edit(move("D2")), store.edit(move("D3"))]);
    await new Promise((r) => setTimeout(r, 20));
    expect(server.proofs).toBe(1);
  });

  it("survive a reload while the server is away", async () => {
    const before = opened();
    server.away = true;
    void before.edit(move("D1"));
    void before.edit(move("D2"));
    await new Promise((r) => setTimeout(r, 20));
    expect(Object.keys(JSON.parse(sessionStorage.getItem("canonis.steps")!) as object)).toEqual(["5"]);
    // The page comes anew: another store, nothing but what the browser kept. The old page's own tries end with it.
    queries.clear();
    setActivePinia(createPinia());
    server.away = false;
    const store = opened();
    await vi.waitFor(() => expect(server.log).toEqual(["5:move:D1", "5:move:D2"]), 3000);
    await vi.waitFor(() => expect(store.pending).toBe(0), 3000);
  });
});

describe("the stream of a job", () => {
  it("that ends with the session is opened again for whoever may still come in", async () => {
    const store = opened();
    store.listen();
    const first = FakeStream.last;
    server.role = "viewer";
    first.listeners.ended();
    await new Promise((r) => setTimeout(r, 20));
    expect(first.closed).toBe(true);
    expect(store.role).toBe("viewer");
    expect(FakeStream.last).not.toBe(first);
  });

  it("tells of tasks as they go", () => {
    const store = opened();
    store.listen();
    const task = { id: 1, kind: "arrive", state: "running", stage: "Reading the model", error: "" };
    FakeStream.last.onmessage?.({ data: JSON.stringify({ tasks: [task], sheet: 1, source: 3, model: null }) });
    expect(store.running?.stage).toBe("Reading the model");
    expect(store.sourceVersion).toBe(3);
  });
});
