import { watch } from "vue";
import { featureKey } from "../../solid/words";
import { useSource } from "../../source/store";
import { useJob } from "../../state";

/**
 * One thing is selected in all stations at once: the ledger line, the stroke on the sheet, the feature in space and the
 * line with its flag on the print.
 */
export function keepTogether() {
  const store = useJob();
  const source = useSource();
  const feature = (id: string) => (store.solid?.report.features ?? []).find((f) => f.id === id);
  watch(
    () => store.selected,
    (key) => {
      const row = store.proof?.ledger.find((r) => r.key === key);
      if (!row) return;
      const statement =
        row.kind === "statement" ? row : store.proof?.ledger.find((r) => r.key === `s:${row.statements[0]}`);
      const found = statement?.feature ? feature(statement.feature) : undefined;
      if (found) store.feature = featureKey(found);
      const number =
        row.kind === "characteristic" ? row.number : row.source_text?.split(",")[0]?.replace("#", "").trim();
      const line = number && source.lines.find((l) => l.number === number);
      if (line && source.id === store.id) source.at = line.id;
    },
  );
  watch(
    () => store.feature,
    (key) => {
      const id = key?.split(".")[1];
      if (!id) return;
      const now = store.proof?.ledger.find((r) => r.key === store.selected);
      const mine = (store.proof?.ledger ?? []).filter((r) => r.feature === id);
      const already = now && (now.feature === id || mine.some((r) => now.statements.includes(r.number)));
      if (mine[0] && !already) store.selected = mine[0].key;
    },
  );
}
