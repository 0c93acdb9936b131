<script setup lang="ts">
/** Every statement with its state. A list box of its own: the library's tables do not go by one focus and the arrows. */
import { Button, Input, Tooltip } from "ant-design-vue";
import { useVirtualList } from "@vueuse/core";
import { computed, nextTick, ref, watch } from "vue";
import { STATES, type LedgerRow } from "../board/types";
import { useJob } from "../state";
import Choose from "./Choose.vue";
import Remarks from "./Remarks.vue";
import Splitter from "./Splitter.vue";

const props = defineProps<{ station: string }>();
const store = useJob();
// In the source station the list itself stands where the ledger would; it starts folded there.
const folded = computed({
  get: () => store.folded[props.station] ?? props.station === "source",
  set: (value) => (store.folded = { ...store.folded, [props.station]: value }),
});
const wide = ref(352);
const show = ref<"all" | "open">("all");
const by = ref<"kind" | "view" | "feature" | "state">("kind");
const BY = [
  { value: "kind", label: "by origin" },
  { value: "view", label: "by view" },
  { value: "feature", label: "by feature" },
  { value: "state", label: "by state" },
] as const;
const words = ref("");
const rows = computed<LedgerRow[]>(() => {
  const all = store.proof?.ledger ?? [];
  const wanted = words.value.trim().toLowerCase();
  return all.filter(
    (r) =>
      (show.value === "all" || !["proven", "reference"].includes(r.state)) &&
      (!wanted || `${r.number} ${r.text} ${r.words} ${r.where}`.toLowerCase().includes(wanted)),
  );
});
const KINDS = { characteristic: "Source", mass: "Mass", statement: "Drawn statements" } as const;
/** The views of all sheets, by id. */
const views = computed(
  () => new Map((store.sheet?.pages ?? []).flatMap((p) => p.views.map((v) => [v.id, v.kind] as const))),
);
const features = computed(() => new Map((store.solid?.report.features ?? []).map((f) => [f.id, f.kind])));
function title(r: LedgerRow): string {
  if (by.value === "kind") return KINDS[r.kind];
  if (by.value === "state") return STATES[r.state]?.word ?? r.state;
  if (r.kind !== "statement") return KINDS[r.kind];
  if (by.value === "view") return r.view ? `${views.value.get(r.view) ?? r.view} view` : "on the sheet";
  return r.feature ? `${features.value.get(r.feature) ?? ""} ${r.feature}`.trim() : "levels and outline";
}
type Item = { head: string; count: number } | { row: LedgerRow };
const items = computed<Item[]>(() => {
  const groups = new Map<string, LedgerRow[]>();
  for (const r of rows.value) groups.set(title(r), [...(groups.get(title(r)) ?? []), r]);
  const order = by.value === "kind" ? Object.values(KINDS) : [...groups.keys()].sort();
  return order.flatMap((head) => {
    const mine = groups.get(head) ?? [];
    return mine.length ? [{ head, count: mine.length }, ...mine.map((row) => ({ row }))] : [];
  });
});
const flat = computed(() => items.value.flatMap((i) => ("row" in i ? [i.row] : [])));
const HEAD = 30;
const ROW = 26;
// A usual sheet stands in the page whole, so that it can be searched by the browser too; only long ones are cut to what is seen.
const { list, containerProps, wrapperProps, scrollTo } = useVirtualList(items, {
  itemHeight: (k) => (items.value[k] && "head" in items.value[k] ? HEAD : ROW),
  overscan: 160,
});
const chosen = computed(() => store.proof?.ledger.find((r) => r.key === store.selected) ?? null);
const remarked = computed(() => {
  const out = new Set<string>();
  for (const r of store.remarks ?? [])
    if (r.statement && !r.settled_by)
      out.add(r.statement.startsWith("#") ? `c:${r.statement.slice(1)}` : `s:${r.statement}`);
  return out;
});
function step(event: KeyboardEvent) {
  const rank = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12, Home: -1e9, End: 1e9 }[event.key];
  if (rank === undefined) return;
  const at = flat.value.findIndex((r) => r.key === store.selected);
  const next = flat.value[Math.min(flat.value.length - 1, Math.max(0, at + rank))];
  if (next) store.selected = next.key;
  event.preventDefault();
  event.stopPropagation();
}
const body = containerProps.ref;
watch(
  () => store.selected,
  async (key) => {
    await nextTick();
    const row = body.value?.querySelector(".on");
    if (row) row.scrollIntoView({ block: "nearest" });
    else {
      const k = items.value.findIndex((i) => "row" in i && i.row.key === key);
      if (k >= 0) scrollTo(k);
    }
  },
);
const drawn = (r: LedgerRow) => (r.kind === "statement" ? r.drawn_text : r.source_text);
const lines = computed(() => (store.proof?.ledger ?? []).filter((r) => r.kind === "characteristic"));
const ticked = computed(() => lines.value.filter((r) => r.ticked).length);
</script>

<template>
  <Splitter
    v-if="!folded"
    v-model="wide"
    keep="ledger"
    label="Width of the ledger"
    :first="352"
    :least="260"
    :most="720"
    pane="right"
  />
  <aside class="ledger" :class="{ folded }" :style="folded ? {} : { width: `${wide}px` }" aria-label="Ledger">
    <header>
      <Tooltip :title="folded ? 'Unfold the ledger' : 'Fold the ledger'">
        <Button
          :aria-expanded="!folded"
          :aria-label="folded ? 'Unfold the ledger' : 'Fold the ledger'"
          @click="folded = !folded"
        >
          {{ folded ? "‹" : "›" }}
        </Button>
      </Tooltip>
      <template v-if="!folded">
        <h3>Ledger</h3>
        <span v-if="store.proving || (store.proof && !store.current)" class="quiet" role="status">proving again …</span>
        <span v-else-if="store.proof" class="tab counts">
          <b class="state-proven" title="proven">◆ {{ store.proof.summary.proven }}</b> ·
          <b class="state-unproven" title="not yet proven">◇ {{ store.proof.summary.unproven }}</b> ·
          <b class="state-differs-model" title="contradicted">▲ {{ store.proof.summary.contradicted }}</b>
          <span v-if="lines.length" class="quiet" title="lines of the source ticked by a person">
            · <b class="dot">•</b>{{ ticked }}/{{ lines.length }}</span
          >
        </span>
        <Button
          :type="show === 'open' ? 'primary' : 'default'"
          :aria-pressed="show === 'open'"
          @click="show = show === 'open' ? 'all' : 'open'"
        >
          open only
        </Button>
      </template>
    </header>
    <template v-if="!folded">
      <div v-if="store.proof" class="find">
        <Input
          v-model:value="words"
          allow-clear
          placeholder="Find a line"
          aria-label="Find a line of the ledger"
          @keydown.stop
        />
        <Choose v-model:value="by" :options="[...BY]" aria-label="Order of the ledger" />
      </div>
      <p v-if="store.proof && words && !rows.length" class="quiet note">No line says “{{ words }}”.</p>
      <p v-else-if="store.proof && !rows.length" class="quiet note">Nothing is open. ◆</p>
      <p v-if="!store.proof" class="quiet note">
        Every statement of the sheet and of the source gets its line here as soon as a model has been drafted.
      </p>
      <div v-if="rows.length" class="cap quiet" aria-hidden="true">
        <span></span><span>statement</span><span>said</span><span>model</span>
      </div>
      <div
        v-bind="containerProps"
        class="body"
        :class="{ outdated: store.proof && !store.current }"
        tabindex="0"
        role="listbox"
        aria-label="Lines of the ledger"
        :aria-activedescendant="chosen ? `ledger-${chosen.key}` : undefined"
        @keydown="step"
      >
        <div v-bind="wrapperProps" role="presentation">
          <template v-for="{ data: i } in list" :key="'row' in i ? i.row.key : i.head">
            <h4 v-if="'head' in i" role="presentation">
              {{ i.head }} <small class="quiet">{{ i.count }}</small>
            </h4>
            <div
              v-else
              :id="`ledger-${i.row.key}`"
              class="line"
              role="option"
              :class="{ on: i.row.key === store.selected }"
              :aria-selected="i.row.key === store.selected"
              :data-key="i.row.key"
              :title="`${i.row.text}: ${STATES[i.row.state]?.word}${i.row.how ? ' · ' + i.row.how : ''}`"
              @click="store.selected = i.row.key"
              @dblclick="store.zoomed = i.row.key"
            >
              <span :class="`state-${i.row.state}`" role="img" :aria-label="STATES[i.row.state]?.word"
                >{{ STATES[i.row.state]?.mark
                }}<b v-if="i.row.ticked" class="dot" :title="`ticked by ${i.row.ticked.by}`">•</b></span
              >
              <span class="what"
                ><i>{{ i.row.kind === "characteristic" ? "#" : "" }}{{ i.row.number }}</i> {{ i.row.text
                }}<b v-if="remarked.has(i.row.key)" title="somebody remarked on this" class="remarked"> ✎</b></span
              >
              <span class="tab">{{ drawn(i.row) }}</span>
              <span class="tab">{{ i.row.model_text ?? "–" }}</span>
            </div>
          </template>
        </div>
      </div>
      <footer v-if="chosen" aria-live="polite">
        <p class="said">
          <b>{{ chosen.kind === "characteristic" ? "#" : "" }}{{ chosen.number }}</b> {{ chosen.text }}
        </p>
        <p>
          <span :class="`state-${chosen.state}`">{{ STATES[chosen.state]?.mark }} {{ STATES[chosen.state]?.word }}</span
          ><template v-if="chosen.difference">, off by {{ chosen.difference }}</template>
          <template v-if="chosen.how"> · {{ chosen.how }}</template>
          <template v-if="chosen.kind === 'statement' && chosen.source_text">
            · source {{ chosen.source_text }}</template
          >
        </p>
        <template v-if="chosen.kind === 'characteristic'">
          <p v-if="chosen.measure" class="quiet">{{ chosen.measure }}</p>
          <p v-if="chosen.reason && chosen.reason !== chosen.how">{{ chosen.reason }}</p>
          <p v-if="chosen.likely">Likely: {{ chosen.likely }}</p>
          <p v-if="chosen.limits" class="quiet tab">limits {{ chosen.limits.map((x) => x ?? "–").join(" … ") }}</p>
          <ul
            v-if="chosen.rivals.length || chosen.state === 'ambiguous'"
            class="rivals"
            aria-label="Places that it could mean"
          >
            <li
              v-for="r in [
                { measure: chosen.measure, value_text: chosen.model_text, place: chosen.place },
                ...chosen.rivals,
              ]"
              :key="r.place"
            >
              <Button size="small" :disabled="!store.mayEdit" @click="store.link(chosen.number, r.place)"
                >It is this</Button
              >
              {{ r.measure }} <span class="tab">({{ r.value_text }})</span>
            </li>
          </ul>
          <p v-if="chosen.ticked" class="quiet">
            <b class="dot">•</b> ticked by {{ chosen.ticked.by }}, {{ new Date(chosen.ticked.at).toLocaleDateString() }}
          </p>
          <p v-else-if="chosen.tick_fell">The tick of {{ chosen.tick_fell.by }} fell: {{ chosen.tick_fell.why }}.</p>
        </template>
        <Remarks
          v-if="chosen.kind !== 'mass'"
          :key="chosen.key"
          :statement="chosen.kind === 'statement' ? chosen.number : `#${chosen.number}`"
        />
      </footer>
      <footer v-else-if="(store.remarks ?? []).some((r) => !r.statement)">
        <Remarks :statement="null" />
      </footer>
    </template>
  </aside>
</template>

<style scoped>
.find {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 112px;
  gap: 6px;
  padding: 6px 10px 0;
}
.ledger {
  flex: none;
  display: flex;
  flex-direction: column;
  background: var(--panel);
  border-left: 1px solid var(--rule);
  min-height: 0;
}
.ledger.folded {
  width: 42px;
}
header {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px;
  border-bottom: 1px solid var(--rule);
}
header h3 {
  margin: 0;
  flex: 1;
}
.body {
  overflow: auto;
  flex: 1;
  min-height: 0;
}
.body:focus-visible {
  outline: 2px solid var(--halo);
  outline-offset: -2px;
}
h4 {
  height: 30px;
  margin: 0;
  padding: 11px 10px 0;
  font-size: 13px;
  line-height: 18px;
  text-transform: none;
}
.cap,
.line {
  display: grid;
  grid-template-columns: 24px 1fr 68px 68px;
  gap: 4px;
  width: 100%;
  padding: 3px 10px;
}
.cap {
  font-size: 12px;
  padding-top: 6px;
}
.line {
  height: 26px;
  border-top: 1px solid #e4dfd4;
  cursor: pointer;
  white-space: nowrap;
}
.line:hover {
  background: var(--paper);
}
.line.on {
  background: var(--paper);
  box-shadow:
    inset 0 0 0 1px var(--halo),
    inset 0 0 0 3px #2f8f8333;
}
.line > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.what {
  font-family: "Canonis Sheet", sans-serif;
}
.what i {
  font-style: normal;
  margin-right: 4px;
  color: var(--quiet);
  font-size: 12px;
}
.dot {
  color: var(--petrol);
}
.rivals {
  list-style: none;
  margin: 0 0 4px;
  padding: 0;
}
.rivals li {
  margin-bottom: 2px;
}
.remarked {
  color: var(--petrol);
}
footer {
  border-top: 1px solid var(--rule);
  padding: 7px 10px 9px;
  max-height: 45%;
  overflow: auto;
  font-size: 13px;
}
footer p {
  margin: 0 0 3px;
}
.said {
  font-family: "Canonis Sheet", sans-serif;
  font-size: 15px;
}
.counts {
  white-space: nowrap;
  font-size: 13px;
}
.note {
  padding: 12px;
}
</style>
