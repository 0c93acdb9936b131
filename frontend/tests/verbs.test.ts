import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { ref } from "vue";
import { queries } from "../src/api/queries";
import type { LedgerRow, Page } from "../src/board/types";
import { isPress, KEYS, SHEET } from "../src/actions";
import { useVerbs, type Acts } from "../src/stations/sheet/verbs";
import { useJob } from "../src/state";

vi.stubGlobal("fetch", async () => Response.json({}, { status: 404 }));

function shown(view: Partial<Page["views"][number]>): Page["views"][number] {
  return {
    id: "V1", kind: "front", name: "front", hidden: true, transitions: "out", scale: 1, scale_text: "1:1", label: "", reason: "",
    aligned: true, sheet: 1, parent: null, partial: false, opened: false, lost: 0, broken: false, shaded: false, helices: false, threads: 0,
    ribs: false, hatched: true, parent_of: true, principal: true, box: [0, 0, 10, 10], ...view,
  }; // prettier-ignore
}
const page: Page = {
  number: 1, size: "A3", width: 420, height: 297, strokes: [], regions: [], texts: [], pictures: [], picks: [],
  views: [
    shown({ id: "V1", kind: "front", name: "front" }),
    shown({ id: "V4", kind: "pictorial", name: "pictorial", hidden: false, parent_of: false, principal: false }),
    shown({ id: "V5", kind: "section", name: "section A–A", hidden: false, principal: false }),
  ],
}; // prettier-ignore
const row: LedgerRow = {
  key: "s:D9", kind: "statement", number: "D9", text: "4× ⌀6.6 THRU", words: "hole", where: "", source: null, source_text: "#5, #6",
  drawn: 6.6, drawn_text: "6.6", model: 6.6, model_text: "6.6", difference: null, state: "proven", statements: ["D9"], how: "",
  view: "V1", feature: "H2",
}; // prettier-ignore

function acts(more: Partial<Record<keyof Acts, unknown>> = {}): Acts {
  const none = () => undefined;
  return {
    page: ref(page), owner: ref(null), view: ref(null), row: ref(undefined), picking: ref(false), folding: ref(false), fold: none, moving: ref(false),
    setting: ref(false), listing: ref(false), drawing: ref(""), draw: none, noting: ref(false), note: none, wording: ref(false), reword: none, measure: none, remove: none, zoom: none, fit: none, toSolid: none, toPrint: none, ...more,
  } as Acts; // prettier-ignore
}
const names = (of: { value: { id: string }[] }) => of.value.map((v) => v.id);

beforeEach(() => {
  queries.clear();
  setActivePinia(createPinia());
  useJob().role = "drafter";
});

describe("the verbs that are offered", () => {
  it("are none for nothing, and for a viewer only those that look", () => {
    expect(names(useVerbs(acts()).chosen)).toEqual([]);
    useJob().role = "viewer";
    const { chosen, always } = useVerbs(acts({ owner: ref("D9"), row: ref(row) }));
    expect(names(chosen)).toEqual(["zoom", "solid"]);
    expect(names(always)).toEqual(["fit"]);
  });

  it("fit a statement: its feature is shown on the solid, a difference can be taken over", () => {
    const toSolid = vi.fn();
    const owner = ref("D9");
    const { chosen } = useVerbs(acts({ owner, row: ref(row), toSolid }));
    expect(names(chosen)).toEqual(["delete", "words", "move", "zoom", "solid"]);
    chosen.value.find((v) => v.id === "solid")?.run();
    expect(toSolid).toHaveBeenCalledWith("H2");
    const differs = { ...row, state: "differs-model" };
    expect(names(useVerbs(acts({ owner, row: ref(differs) })).chosen)).toContain("accept");
  });

  it("fit a view: its hidden lines, but not those of a pictorial", () => {
    const front = useVerbs(acts({ view: ref("V1") })).chosen;
    expect(front.value.find((v) => v.id === "hidden")?.name).toBe("Hide hidden lines");
    expect(names(useVerbs(acts({ view: ref("V4") })).chosen)).toEqual(["move", "off", "zoom"]);
  });

  it("fit a view: it can be cut, enlarged and broken open; a section is cut again but not broken open", () => {
    const draw = vi.fn();
    const front = useVerbs(acts({ view: ref("V1"), draw })).chosen;
    expect(names(front)).toEqual(["move", "hidden", "cut", "enlarge", "open", "part", "fold", "off", "zoom"]);
    front.value.find((v) => v.id === "cut")?.run();
    expect(draw).toHaveBeenCalledWith("cut");
    expect(names(useVerbs(acts({ view: ref("V5") })).chosen)).not.toContain("open");
  });

  it("lead to the print only where the line has a flag there", () => {
    const store = useJob();
    store.id = 5;
    const flag = { print_id: 1, page: 1, x: 0.5, y: 0.5 };
    const lines = [
      { number: "5", flag },
      { number: "6", flag: null },
    ];
    store.job = { id: 5, tasks: [], source: { version: 1, lines } } as never;
    const toPrint = vi.fn();
    const { chosen } = useVerbs(acts({ owner: ref("D9"), row: ref(row), toPrint }));
    chosen.value.find((v) => v.id === "print")?.run();
    expect(toPrint).toHaveBeenCalledWith("5");
    const other = { ...row, source_text: "#6" };
    expect(names(useVerbs(acts({ owner: ref("D9"), row: ref(other) })).chosen)).not.toContain("print");
  });
});

describe("the table of actions", () => {
  const pressed = (key: string, more: Partial<KeyboardEvent> = {}) => ({
    key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more,
  }); // prettier-ignore
  const meant = (key: string, more: Partial<KeyboardEvent> = {}) =>
    SHEET.filter((e) => isPress(e.press, pressed(key, more))).map((e) => e.id);

  it("gives each key one meaning, and each verb with a key its place in the list of keys", () => {
    for (const keys of Object.values(KEYS)) {
      const presses = keys.map((e) => e.press);
      expect(new Set(presses).size).toBe(presses.length);
      expect(keys.every((e) => e.help)).toBe(true);
    }
    const { always } = useVerbs(acts({ view: ref("V1") }));
    for (const verb of always.value) expect(SHEET.find((e) => e.id === verb.id)?.press).toBe(verb.press);
  });

  it("tells keys apart by what is held with them", () => {
    expect(meant("z")).toEqual(["zoom"]);
    expect(meant("z", { ctrlKey: true })).toEqual(["undo"]);
    expect(meant("Z", { metaKey: true, shiftKey: true })).toEqual(["redo"]);
    expect(meant("z", { altKey: true })).toEqual([]);
    // A plus stands behind Shift on many keyboards.
    expect(meant("+", { shiftKey: true })).toEqual(["closer"]);
    expect(meant("ArrowUp")).toEqual(["nudge"]);
    expect(meant("F2")).toEqual(["words"]);
  });
});
