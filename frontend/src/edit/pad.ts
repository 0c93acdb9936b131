import { useFocusWithin } from "@vueuse/core";
import { reactive, watch, type Ref } from "vue";
import { useSource, type SourceRead } from "../source/store";

/** How the rows of a pad are read from the source and told apart. */
export interface Rows<Row> {
  /** The rows that the server has. */
  from: (read: SourceRead) => Row[];
  /** What a row says, without its blanks; an empty one is not stored. */
  says: (row: Row) => string;
  /** Takes over into a row what the server made of it. */
  answered: (mine: Row, theirs: Row) => void;
}

/**
 * The rows of a block of the source that is stored whole (workings, chains, checkpoints). An answer never touches a pad in
 * which somebody types: it brings what the server made of rows that say the same, the rest waits until the hand is off.
 */
export function usePad<Row extends object>(what: string, box: Ref<HTMLElement | undefined>, how: Rows<Row>): Row[] {
  const source = useSource();
  const rows = reactive<Row[]>([]) as Row[];
  const { focused } = useFocusWithin(box);
  watch(
    [() => source.read, focused],
    ([read, held]) => {
      if (!read || source.busyWith(what)) return;
      const fresh = how.from(read);
      if (held) {
        for (const mine of rows) {
          const theirs = fresh.find((r) => how.says(r) === how.says(mine));
          if (theirs && how.says(mine)) how.answered(mine, theirs);
        }
        return;
      }
      // A row that is still empty is not stored; it stays for what is about to be typed.
      const empty = rows.filter((r) => !how.says(r));
      rows.splice(0, rows.length, ...fresh, ...empty);
    },
    { immediate: true },
  );
  return rows;
}
