import { computed, type ComputedRef, type Ref } from "vue";
import type { Drawing, LedgerRow, Page } from "../../board/types";
import { SHEET } from "../../actions";
import { useJob } from "../../state";

/** Something that can be done with what is selected. */
export interface Verb {
  id: string;
  name: string;
  /** Its key, as people read it. */
  press?: string;
  off?: boolean;
  on?: boolean;
  /** Needed seldom: behind “More …” in the dock. */
  rare?: boolean;
  run: () => void;
}
/** What the verbs act on, and what they need the station for. */
export interface Acts {
  page: Ref<Page | undefined>;
  /** The selected statement, view and ledger line. */
  owner: Ref<string | null>;
  view: Ref<string | null>;
  row: Ref<LedgerRow | undefined>;
  picking: Ref<boolean>;
  folding: Ref<boolean>;
  fold: () => void;
  moving: Ref<boolean>;
  setting: Ref<boolean>;
  listing: Ref<boolean>;
  drawing: Ref<Drawing>;
  draw: (what: Exclude<Drawing, "">) => void;
  noting: Ref<boolean>;
  note: () => void;
  /** Whether the words of the selected statement are typed anew. */
  wording: Ref<boolean>;
  reword: () => void;
  measure: () => void;
  remove: () => void;
  zoom: () => void;
  fit: () => void;
  toSolid: (feature: string) => void;
  toPrint: (line: string) => void;
}

const PRESS = new Map(SHEET.map((e) => [e.id, e.press]));
/** A verb with its key from the table. */
function verb(id: string, name: string, run: () => void, more: Partial<Verb> = {}): Verb {
  return { id, name, press: PRESS.get(id), run, ...more };
}

/** The verbs that fit the selection: the dock, the right click and the keys offer the same ones. */
export function useVerbs(at: Acts): { chosen: ComputedRef<Verb[]>; always: ComputedRef<Verb[]> } {
  const store = useJob();
  const chosen = computed<Verb[]>(() => {
    const out: Verb[] = [];
    const { owner, view, row } = { owner: at.owner.value, view: at.view.value, row: at.row.value };
    if (!owner && !view) return out;
    if (store.mayEdit && owner) {
      out.push(verb("delete", `Delete “${row?.text ?? owner}”`, at.remove));
      if (row?.text) out.push(verb("words", "Other words …", at.reword, { on: at.wording.value }));
    }
    const move = () => (at.moving.value = !at.moving.value);
    if (store.mayEdit) out.push({ id: "move", name: "Move by …", press: "arrows", on: at.moving.value, run: move });
    if (store.mayEdit && owner && row?.state === "differs-model")
      out.push(verb("accept", "Take the model's value", () => void store.edit({ op: "accept", id: owner })));
    const shown = at.page.value?.views.find((v) => v.id === view);
    if (store.mayEdit && shown && shown.kind !== "pictorial") {
      const name = shown.hidden ? "Hide hidden lines" : "Show hidden lines";
      const run = () => void store.edit({ op: "set", what: "hidden", view: shown.id, value: !shown.hidden });
      out.push(verb("hidden", name, run, { rare: true }));
    }
    if (store.mayEdit && shown?.parent_of) {
      const drawn = at.drawing.value;
      const drawing = (what: Exclude<Drawing, "">, name: string, more: Partial<Verb> = {}) =>
        out.push(verb(what, name, () => at.draw(what), { on: drawn === what, ...more }));
      drawing("cut", "Cut …");
      drawing("enlarge", "Enlarge …");
      if (shown.principal) {
        drawing("open", "Break open …");
        drawing("part", "Show in part …", { rare: true });
      }
      out.push(verb("fold", "Fold at an edge …", at.fold, { rare: true, on: at.folding.value }));
    }
    if (store.mayEdit && shown)
      out.push({ id: "off", name: `Take ${shown.name} off`, press: PRESS.get("delete"), run: at.remove });
    out.push(verb("zoom", "Zoom to it", at.zoom));
    const feature = /\d$/.test(row?.feature ?? "") ? row?.feature : undefined;
    if (feature) out.push({ id: "solid", name: `${feature} on the solid`, run: () => at.toSolid(feature) });
    const line = row?.source_text?.split(",")[0]?.replace("#", "").trim();
    if (line && store.job?.source.lines.some((l) => l.number === line && l.flag))
      out.push({ id: "print", name: `#${line} on the print`, run: () => at.toPrint(line) });
    return out;
  });
  const always = computed<Verb[]>(() => {
    const fit = verb("fit", "Fit", at.fit);
    if (!store.mayEdit) return [fit];
    const turn = (flag: Ref<boolean>) => () => (flag.value = !flag.value);
    return [
      verb("measure", "Measure between two", at.measure, { on: at.picking.value }),
      verb("note", "Note …", at.note, { on: at.noting.value }),
      verb("undo", "Undo", () => void store.undo(), { off: !store.sheet?.can_undo }),
      verb("redo", "Redo", () => void store.redo(), { off: !store.sheet?.can_redo }),
      verb("views", "Views …", turn(at.listing), { on: at.listing.value }),
      verb("tidy", "Tidy", () => void store.edit({ op: "tidy" })),
      verb("page", "Page …", turn(at.setting), { on: at.setting.value }),
      fit,
    ];
  });
  return { chosen, always };
}
