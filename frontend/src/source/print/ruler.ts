import { ref, type Ref } from "vue";
import type { Schemas } from "../../api/client";
import { useSource } from "../store";
import type { Spot } from "./turns";

/** Lengths read off a page: between two places on the stored page, once a size on it is known. */
export function useRuler(facts: Ref<Schemas["PrintPage"] | undefined>) {
  const source = useSource();
  const ends = ref<Spot[]>([]);
  const reading = ref("");
  /** Distance between the ends, in widths of the stored page. */
  function span(): number {
    const [a, b] = ends.value;
    const f = facts.value;
    return a && b && f ? Math.hypot((a.x - b.x) * f.width, (a.y - b.y) * f.height) / f.width : 0;
  }
  async function read() {
    const per = facts.value?.mm_per_width;
    if (!per) return;
    const length = `${(span() * per).toFixed(4)} mm`;
    reading.value = `${(await source.workOut(length)).shown} (estimated from the picture)`;
    const square = source.read?.head.square;
    if (!square) return;
    const one = await source.workOut(`${length} / (${square} ${source.read?.head.unit ?? "mm"})`);
    reading.value += ` = ${Number(one.shown).toFixed(2)} squares`;
  }
  /** The width of the page's picture in mm, from a size that is known between the ends. */
  async function calibration(known: string): Promise<number> {
    const squares = known.match(/^\s*(.+?)\s*squares?\s*$/i);
    const unit = source.read?.head.unit ?? "mm";
    const made = await source.workOut(
      squares ? `(${squares[1]}) * (${source.read?.head.square || "5"} ${unit})` : known,
    );
    const value = made.value ?? 0;
    const mm = made.kind === "number" && unit === "in" ? value * 25.4 : value;
    if (!(mm > 0)) throw new Error("The known size must be larger than nothing.");
    return mm / span();
  }
  return { ends, reading, read, calibration };
}
