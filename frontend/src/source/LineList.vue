<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { computed, nextTick, onMounted, ref, watch } from "vue";
import { STATES } from "../board/types";
import { useJob } from "../state";
import { useSource, type Line, type Offer } from "./store";
import Choose from "../parts/Choose.vue";

const CAME = ["read", "worked out", "estimated", "assumed"].map((value) => ({ value }));

const emit = defineEmits<{ flag: [line: Line] }>();
const source = useSource();
const job = useJob();
/** Rows have one height, so that only those in sight are in the page, however long the list is. */
const ROW = 50;
const box = ref<HTMLElement>();
const top = ref(0);
const high = ref(500);
const anchor = ref(-1);
const shown = computed(() => {
  const first = Math.max(0, Math.floor(top.value / ROW) - 6);
  const last = Math.min(source.lines.length, Math.ceil((top.value + high.value) / ROW) + 6);
  const rows = source.lines.slice(first, last).map((line, k) => ({ line, k: first + k }));
  const at = source.lines.findIndex((l) => l.id === source.at);
  // The line at work stays in the page when it is scrolled away, or its field would lose what is being typed.
  if (at >= 0 && (at < first || at >= last)) rows.push({ line: source.lines[at], k: at });
  return rows;
});
const flagged = (line: Line) => source.findings.filter((f) => f.subject === line.number && f.severity !== "advice");
/** What the proof of the sheet says of each line, by number. */
const proofs = computed(() => new Map((job.proof?.ledger ?? []).map((r) => [r.key, r.state])));
const proof = (line: Line) => proofs.value.get(`c:${line.number}`);
const offers = computed(() => (source.offers.id === source.at ? source.offered : []));

function measure() {
  high.value = box.value?.clientHeight ?? 500;
}
onMounted(() => {
  measure();
  new ResizeObserver(measure).observe(box.value!);
});
function focus(k: number, column = "text") {
  const line = source.lines[k];
  if (!line) return;
  source.at = line.id;
  const y = k * ROW;
  if (box.value && (y < box.value.scrollTop || y + ROW > box.value.scrollTop + high.value))
    box.value.scrollTop = y < box.value.scrollTop ? y : y + ROW - high.value;
  void nextTick(() =>
    box.value?.querySelector<HTMLInputElement>(`[data-id="${line.id}"] [data-col="${column}"]`)?.focus(),
  );
}
function add(after: number, given: Partial<Line> = {}) {
  const before = source.lines[after];
  source.insert(before?.id ?? null, { where: before?.where ?? "", ...given });
  focus(after + 1);
}
function accept(line: Line, offer: Offer) {
  const head = line.text.slice(0, line.text.length - offer.typed.length);
  const glued = /[⌀↧R]$/.test(offer.put);
  source.edit(line, { text: `${head}${offer.put}${glued ? "" : " "}` });
  source.offers = { id: "", text: "", list: [] };
  focus(source.lines.indexOf(line));
}
function extend(k: number, to: number) {
  if (anchor.value < 0) anchor.value = k;
  const [a, b] = [Math.min(anchor.value, to), Math.max(anchor.value, to)];
  source.picked = source.lines.slice(a, b + 1).map((l) => l.id);
}
function key(event: KeyboardEvent, line: Line, k: number) {
  const field = event.target as HTMLInputElement;
  const column = field.dataset.col ?? "text";
  const first = offers.value.find((o) => o.typed);
  const ctrl = event.ctrlKey || event.metaKey;
  if (event.key === "Enter" && event.altKey && column === "text") {
    const cut = field.selectionStart ?? line.text.length;
    const rest = line.text.slice(cut).trim();
    source.edit(line, { text: line.text.slice(0, cut).trim() });
    add(k, { text: rest });
  } else if (event.key === "Enter") add(k);
  else if (
    event.key === "Tab" &&
    !event.shiftKey &&
    column === "text" &&
    first &&
    field.selectionStart === line.text.length
  )
    accept(line, first);
  else if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
    const by = event.key === "ArrowUp" ? -1 : 1;
    source.move(line, by);
    focus(k + by, column);
  } else if (event.shiftKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
    const to = Math.max(0, Math.min(source.lines.length - 1, k + (event.key === "ArrowUp" ? -1 : 1)));
    extend(k, to);
    focus(to, column);
  } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
    source.picked = [];
    anchor.value = -1;
    focus(k + (event.key === "ArrowUp" ? -1 : 1), column);
  } else if (ctrl && event.key.toLowerCase() === "d")
    add(k, { where: line.where, text: line.text, provenance: line.provenance });
  else if (ctrl && event.key === "Delete") {
    source.remove(source.picked.length ? [...source.picked] : [line.id]);
    focus(Math.min(k, source.lines.length - 1));
  } else if (event.key === "F2") emit("flag", line);
  else if (event.key === "Escape") {
    source.offers = { id: "", text: "", list: [] };
    source.picked = [];
    anchor.value = -1;
  } else return;
  event.preventDefault();
}
function pasted(event: ClipboardEvent, line: Line, k: number) {
  const text = event.clipboardData?.getData("text") ?? "";
  if (text.split(/\r?\n/).filter((t) => t.trim()).length < 2) return;
  event.preventDefault();
  source.paste(text, line);
  focus(k);
}
function press(event: MouseEvent, line: Line, k: number) {
  if (event.shiftKey) {
    extend(
      source.lines.findIndex((l) => l.id === source.at),
      k,
    );
    return;
  }
  source.picked = [];
  anchor.value = -1;
  source.at = line.id;
  job.selected = `c:${line.number}`;
}
watch(
  () => source.at,
  (id) => {
    const line = source.lines.find((l) => l.id === id);
    if (line) job.selected = `c:${line.number}`;
    source.offers = { id: "", text: "", list: [] };
  },
);
watch(
  () => job.selected,
  (chosen) => {
    const k = source.lines.findIndex((l) => `c:${l.number}` === chosen);
    if (k >= 0 && source.lines[k].id !== source.at) {
      source.at = source.lines[k].id;
      if (box.value) box.value.scrollTop = Math.max(0, k * ROW - high.value / 2);
    }
  },
);
const many = computed(() => source.lines.filter((l) => source.picked.includes(l.id)));
const place = ref("");
/** What is typed for all chosen lines goes to each of them once. */
function moveMany() {
  if (place.value) setMany({ where: place.value });
  place.value = "";
}
function setMany(fields: Partial<Line>) {
  for (const line of many.value) source.edit(line, fields);
}
defineExpose({ focus, add });

/** What is typed is kept at once: an answer of the server in between draws the row anew. Empty waits for its end. */
function number(line: Line, typed: string) {
  if (typed) source.edit(line, { number: typed });
}
</script>

<template>
  <div class="list">
    <div class="cap quiet">
      <span>No.</span><span>Where</span><span>Shorthand, and what it means</span><span>Came by</span>
    </div>
    <div
      ref="box"
      class="rows"
      role="list"
      aria-label="Characteristics"
      @scroll="top = ($event.target as HTMLElement).scrollTop"
    >
      <div class="room" :style="{ height: `${source.lines.length * ROW}px` }">
        <div
          v-for="{ line, k } in shown"
          :key="line.id"
          class="row"
          role="listitem"
          :data-id="line.id"
          :class="{
            on: source.at === line.id,
            bad: (line.error && line.text) || source.refusal(line.id),
            many: source.picked.includes(line.id),
          }"
          :style="{ transform: `translateY(${k * ROW}px)` }"
          @mousedown="press($event, line, k)"
        >
          <input
            class="no"
            data-col="number"
            :value="line.number"
            :aria-label="`Number of line ${k + 1}`"
            :disabled="!job.mayEdit"
            @focus="source.at = line.id"
            @input="number(line, ($event.target as HTMLInputElement).value)"
            @change="source.edit(line, { number: ($event.target as HTMLInputElement).value })"
            @keydown="key($event, line, k)"
          />
          <input
            data-col="where"
            :value="line.where"
            :aria-label="`Place of line ${k + 1}`"
            :disabled="!job.mayEdit"
            placeholder="sheet, zone, view"
            @focus="source.at = line.id"
            @input="source.edit(line, { where: ($event.target as HTMLInputElement).value })"
            @keydown="key($event, line, k)"
          />
          <span class="type">
            <input
              data-col="text"
              :value="line.text"
              :data-line="k"
              :aria-label="`Shorthand of line ${k + 1}`"
              :disabled="!job.mayEdit"
              spellcheck="false"
              autocomplete="off"
              @focus="source.at = line.id"
              @input="source.edit(line, { text: ($event.target as HTMLInputElement).value })"
              @keydown="key($event, line, k)"
              @paste="pasted($event, line, k)"
            />
            <span v-if="source.refusal(line.id)" class="says fault" :title="source.refusal(line.id)"
              >Not stored: {{ source.refusal(line.id) }}</span
            >
            <span v-else-if="line.error && line.text" class="says fault" :title="line.error.message"
              >▲ Column {{ line.error.column }}: {{ line.error.message }}</span
            >
            <span v-else class="says" :title="line.words"
              ><b v-if="flagged(line).length" class="fault" :title="flagged(line)[0].message">▼ </b
              ><b v-if="proof(line)" :class="`state-${proof(line)}`" :title="STATES[proof(line)!].word"
                >{{ STATES[proof(line)!].mark }} </b
              >{{ line.words }}<i v-if="line.tolerance"> · {{ line.tolerance }}</i
              ><i v-if="line.working"> · from {{ line.working }}</i></span
            >
          </span>
          <span class="by">
            <Choose
              :value="line.provenance"
              :aria-label="`How line ${k + 1} came about`"
              :disabled="!job.mayEdit"
              :options="CAME"
              @change="(v) => source.edit(line, { provenance: String(v) })"
            />
            <Button
              type="text"
              class="bare pin"
              :class="{ set: line.flag }"
              :title="line.flag ? 'Its flag stands on the print (F2 moves it)' : 'Place its flag on the print (F2)'"
              :disabled="!job.mayEdit || !source.read?.prints.length"
              @click="emit('flag', line)"
            >
              {{ line.flag ? "◉" : "○" }}
            </Button>
          </span>
        </div>
      </div>
    </div>
    <div v-if="offers.length" class="offers" role="listbox" aria-label="What may come next">
      <Button
        v-for="(o, k) in offers"
        :key="o.put"
        tabindex="-1"
        @mousedown.prevent="source.line && accept(source.line, o)"
      >
        <b>{{ o.put }}</b> {{ o.says }} <kbd v-if="!k && o.typed">Tab</kbd>
      </Button>
    </div>
    <div v-if="many.length > 1" class="manybar" role="toolbar" aria-label="Chosen lines">
      <b>{{ many.length }} lines</b>
      <label
        >Where
        <Input
          :placeholder="many[0].where"
          aria-label="Where, of all chosen lines"
          v-model:value="place"
          @blur="moveMany"
          @press-enter="moveMany"
      /></label>
      <label
        >Came by
        <Choose
          placeholder="…"
          aria-label="Came by, of all chosen lines"
          :options="CAME"
          @change="(v) => setMany({ provenance: String(v) })"
      /></label>
      <Button @click="many.forEach((l) => source.insert(many.at(-1)!.id, { where: l.where, text: l.text }))">
        Duplicate
      </Button>
      <Button @click="source.remove(many.map((l) => l.id))">Delete</Button>
    </div>
    <div v-if="job.mayEdit" class="foot">
      <Button @click="add(source.lines.length - 1)">Add a line</Button>
      <span class="quiet"
        ><kbd>Enter</kbd> next · <kbd>Alt ↑↓</kbd> reorder · <kbd>Ctrl D</kbd> duplicate · <kbd>Alt Enter</kbd> split ·
        <kbd>Shift ↑↓</kbd> choose · <kbd>Ctrl Del</kbd> delete · <kbd>F2</kbd> flag</span
      >
    </div>
  </div>
</template>

<style scoped>
.list {
  display: flex;
  flex-direction: column;
  min-height: 0;
  height: 100%;
}
.cap,
.row {
  display: grid;
  grid-template-columns: 40px 104px minmax(0, 1fr) 116px;
  gap: 5px;
}
.cap {
  font-size: 12px;
  padding: 0 14px 2px 6px;
}
.rows {
  flex: 1;
  min-height: 80px;
  overflow-y: auto;
  background: var(--panel);
  border: 1px solid var(--rule);
  position: relative;
}
.room {
  position: relative;
}
.row {
  position: absolute;
  inset: 0 0 auto 0;
  height: 50px;
  padding: 3px 5px;
  align-items: start;
  border-bottom: 1px solid var(--rule);
}
.row.on {
  background: var(--paper);
  box-shadow: inset 3px 0 0 var(--petrol);
}
.row.many {
  background: #e3efec;
}
.row input {
  width: 100%;
  padding: 2px 5px;
}
.row.bad [data-col="text"] {
  border-color: var(--vermilion);
}
[data-col="text"] {
  font-family: "Canonis Sheet", sans-serif;
  font-size: 15px;
}
.type {
  display: grid;
  min-width: 0;
}
.says {
  font-size: 12.5px;
  color: var(--quiet);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  line-height: 17px;
}
.by {
  display: flex;
  gap: 4px;
  align-items: center;
}
.by select {
  font-size: 12px;
  width: 84px;
  padding: 2px 1px;
}
.pin {
  font-size: 15px;
  line-height: 1;
  border: 1px solid transparent;
  background: none;
  cursor: pointer;
  color: var(--quiet);
  padding: 2px;
}
.pin.set {
  color: var(--petrol);
}
.pin:disabled {
  cursor: default;
  opacity: 0.45;
}
.offers {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
  padding: 4px 0 0;
  max-height: 62px;
  overflow: hidden;
}
.offers button {
  font-size: 12px;
  padding: 1px 6px;
}
.manybar,
.foot {
  display: flex;
  gap: 10px;
  align-items: center;
  padding-top: 5px;
  font-size: 13px;
}
.manybar input {
  width: 110px;
}
.foot .quiet {
  font-size: 11.5px;
}
.foot button {
  white-space: nowrap;
}
.says.fault {
  color: var(--vermilion);
}
</style>
