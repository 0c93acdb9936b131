import { beforeEach, describe, expect, it } from "vitest";
import { effectScope, nextTick, ref } from "vue";
import { useDraft, type Draft } from "../src/edit/draft";

/** A field on a screen: what the server has, what was sent to it. */
function field(first = "Drum") {
  const stored = ref(first);
  const key = ref("job.1.title");
  const sent: string[] = [];
  const scope = effectScope();
  const draft = scope.run(() =>
    useDraft(
      () => key.value,
      () => stored.value,
      (text) => sent.push(text),
    ),
  ) as Draft;
  const answer = async (text: string) => {
    stored.value = text;
    await nextTick();
  };
  const type = async (text: string) => {
    draft.text.value = text;
    await nextTick();
  };
  return { stored, key, sent, draft, answer, type, close: () => scope.stop() };
}

beforeEach(() => sessionStorage.clear());

describe("a field that is typed into", () => {
  it("is not touched by an answer that arrives meanwhile, not even its blanks", async () => {
    const { draft, answer, type, sent } = field();
    draft.take();
    await type("Strike ");
    await answer("Drum of somebody else");
    expect(draft.text.value).toBe("Strike ");
    expect(draft.theirs.value).toBe("Drum of somebody else");
    draft.leave();
    expect(sent).toEqual(["Strike "]);
  });

  it("takes over the stored form once the hand is off it", async () => {
    const { draft, answer, type } = field();
    draft.take();
    await type(" Strike drum ");
    draft.leave();
    await answer("Strike drum");
    expect(draft.text.value).toBe("Strike drum");
    expect(draft.dirty.value).toBe(false);
  });

  it("sends a change that was made while another one was on its way", async () => {
    const { draft, answer, type, sent } = field();
    draft.take();
    await type("A");
    draft.give();
    await type("AB");
    await answer("A");
    expect(draft.text.value).toBe("AB");
    draft.leave();
    expect(sent).toEqual(["A", "AB"]);
    await answer("AB");
    expect(draft.dirty.value).toBe(false);
  });

  it("keeps what a server that is away, or refuses it, never stored; over a reload too", async () => {
    const first = field();
    first.draft.take();
    await first.type("Strike drum");
    first.draft.leave();
    first.close();
    const again = field();
    expect(again.draft.text.value).toBe("Strike drum");
    expect(again.draft.dirty.value).toBe(true);
    again.draft.drop();
    await nextTick();
    again.close();
    expect(field().draft.text.value).toBe("Drum");
  });

  it("sends nothing when it was only looked at, and then shows what somebody stored meanwhile", async () => {
    const { draft, answer, sent } = field();
    draft.take();
    await answer("Drum B");
    expect(draft.text.value).toBe("Drum");
    draft.leave();
    expect(draft.text.value).toBe("Drum B");
    expect(sent).toEqual([]);
  });

  it("belongs to its own thing: another job's field shows its own text", async () => {
    const { draft, key, stored, type } = field();
    draft.take();
    await type("Strike drum");
    key.value = "job.2.title";
    stored.value = "Cowl";
    await nextTick();
    expect(draft.text.value).toBe("Cowl");
    key.value = "job.1.title";
    stored.value = "Drum";
    await nextTick();
    expect(draft.text.value).toBe("Strike drum");
  });

  it("follows what others store as long as nobody types", async () => {
    const { draft, answer } = field();
    await answer("Drum B");
    expect(draft.text.value).toBe("Drum B");
    expect(draft.theirs.value).toBeNull();
  });
});
