import { computed, type ComputedRef, type Ref } from "vue";
import type { Drawing, LedgerRow, Page } from "../../board/types";
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
  measure: () => void;
  remove: () => void;
  zoom: () => void;
  fit: () => void;
  toSolid: (feature: string) => void;
  toPrint: (line: string) => void;
}

/** The verbs that fit the selection: the dock, the right click and the keys offer the same ones. */
export function useVerbs(at: Acts): { chosen: ComputedRef<Verb[]>; always: ComputedRef<Verb[]> } {
  const store = useJob();
  const chosen = computed<Verb[]>(() => {
    const out: Verb[] = [];
    const { owner, view, row } = { owner: at.owner.value, view: at.view.value, row: at.row.value };
    if (!owner && !view) return out;
    if (store.mayEdit && owner)
      out.push({ id: "delete", name: `Delete “${row?.text ?? owner}”`, press: "Delete", run: at.remove });
    if (store.mayEdit)
      out.push({
        id: "move",
        name: "Move by …",
        press: "arrows",
        on: at.moving.value,
        run: () => (at.moving.value = !at.moving.value),
      });
    if (store.mayEdit && owner && row?.state === "differs-model")
      out.push({
        id: "accept",
        name: "Take the model's value",
        run: () => void store.edit({ op: "accept", id: owner }),
      });
    const shown = at.page.value?.views.find((v) => v.id === view);
    if (store.mayEdit && shown && shown.kind !== "pictorial")
      out.push({
        id: "hidden",
        rare: true,
        name: shown.hidden ? "Hide hidden lines" : "Show hidden lines",
        run: () => void store.edit({ op: "set", what: "hidden", view: shown.id, value: !shown.hidden }),
      });
    if (store.mayEdit && shown?.parent_of) {
      const drawn = at.drawing.value;
      out.push({ id: "cut", name: "Cut …", press: "X", on: drawn === "cut", run: () => at.draw("cut") });
      out.push({
        id: "enlarge",
        name: "Enlarge …",
        press: "E",
        on: drawn === "enlarge",
        run: () => at.draw("enlarge"),
      });
      if (shown.principal)
        out.push(
          { id: "open", name: "Break open …", press: "B", on: drawn === "open", run: () => at.draw("open") },
          {
            id: "part",
            name: "Show in part …",
            press: "W",
            rare: true,
            on: drawn === "part",
            run: () => at.draw("part"),
          },
        );
      out.push({ id: "fold", name: "Fold at an edge …", press: "A", rare: true, on: at.folding.value, run: at.fold });
    }
    if (store.mayEdit && shown)
      out.push({ id: "off", name: `Take ${shown.name} off`, press: "Delete", run: at.remove });
    out.push({ id: "zoom", name: "Zoom to it", press: "Z", run: at.zoom });
    const feature = row?.feature;
    if (feature) out.push({ id: "solid", name: `${feature} on the solid`, run: () => at.toSolid(feature) });
    const line = row?.source_text?.split(",")[0]?.replace("#", "").trim();
    if (line && store.job?.source.lines.some((l) => l.number === line && l.flag))
      out.push({ id: "print", name: `#${line} on the print`, run: () => at.toPrint(line) });
    return out;
  });
  const always = computed<Verb[]>(() => {
    const undo: Verb[] = !store.mayEdit
      ? []
      : [
          { id: "measure", name: "Measure between two", press: "M", on: at.picking.value, run: at.measure },
          { id: "undo", name: "Undo", press: "Ctrl Z", off: !store.sheet?.can_undo, run: () => void store.undo() },
          {
            id: "redo",
            name: "Redo",
            press: "Ctrl Shift Z",
            off: !store.sheet?.can_redo,
            run: () => void store.redo(),
          },
          {
            id: "views",
            name: "Views …",
            press: "L",
            on: at.listing.value,
            run: () => (at.listing.value = !at.listing.value),
          },
          { id: "tidy", name: "Tidy", press: "T", run: () => void store.edit({ op: "tidy" }) },
          {
            id: "page",
            name: "Page …",
            press: "P",
            on: at.setting.value,
            run: () => (at.setting.value = !at.setting.value),
          },
        ];
    return [...undo, { id: "fit", name: "Fit", press: "0", run: at.fit }];
  });
  return { chosen, always };
}
