import { describe, expect, it } from "vitest";
import { Chain } from "../src/edit/chain";

/** A server with one thing. */
function bench() {
  const server = { version: 1, log: [] as string[] };
  let shown: { version: number } | null = { version: 1 };
  const chain = new Chain<{ version: number }>((made) => (shown = made));
  const send =
    (name: string, wait = 5) =>
    async () => {
      await new Promise((r) => setTimeout(r, wait));
      if (name === "impossible") throw new Error("That is gone.");
      server.log.push(name);
      return { version: ++server.version };
    };
  return { server, chain, send, shown: () => shown };
}

describe("edits one after the other", () => {
  it("never refuses quick ones on one version", async () => {
    const { server, chain, send, shown } = bench();
    await Promise.all([chain.add(send("a", 20)), chain.add(send("b", 1)), chain.add(send("c", 5))]);
    expect(server.log).toEqual(["a", "b", "c"]);
    expect(shown()).toEqual({ version: 4 });
    expect(chain.pending).toBe(0);
  });

  it("goes on after one that is refused, and says why", async () => {
    const { server, chain, send } = bench();
    const bad = chain.add(send("impossible"));
    const good = chain.add(send("good"));
    await expect(bad).rejects.toThrow("gone");
    await good;
    expect(server.log).toEqual(["good"]);
  });

  it("counts what is on its way", async () => {
    const { chain, send } = bench();
    const all = [chain.add(send("a")), chain.add(send("b"))];
    expect(chain.pending).toBe(2);
    await Promise.all(all);
    await Promise.resolve();
    expect(chain.pending).toBe(0);
  });
});
