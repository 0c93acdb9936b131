<script setup lang="ts">
/** The source read through line by line: each place on sheet, solid and print at once; one key says yes. */
import { Button, Skeleton } from "ant-design-vue";
import { useEventListener } from "@vueuse/core";
import { computed, defineAsyncComponent, nextTick, onMounted, ref, watch } from "vue";
import Board from "../../board/Board.vue";
import { STATES } from "../../board/types";
import Press from "../../parts/Press.vue";
import Remarks from "../../parts/Remarks.vue";
import { useSource } from "../../source/store";
import { useJob } from "../../state";

const Space = defineAsyncComponent(() => import("../../space/Space.vue"));
const PrintPane = defineAsyncComponent(() => import("../../source/PrintPane.vue"));
const emit = defineEmits<{ close: [] }>();
const store = useJob();
const source = useSource();
const board = ref<InstanceType<typeof Board>>();
const box = ref<HTMLElement>();
const asking = ref(false);
/** The rival that is looked at; −1 is the program's own choice. */
const looked = ref(-1);

const lines = computed(() => (store.proof?.ledger ?? []).filter((r) => r.kind === "characteristic"));
const at = ref(
  Math.max(
    0,
    lines.value.findIndex((r) => `c:${r.number}` === store.selected),
  ),
);
if (!store.selected?.startsWith("c:")) {
  const open = lines.value.findIndex((r) => !r.ticked);
  at.value = Math.max(0, open);
}
const row = computed(() => lines.value[Math.min(at.value, lines.value.length - 1)]);
const rival = computed(() => row.value?.rivals[looked.value] ?? null);
const ticked = computed(() => lines.value.filter((r) => r.ticked).length);
const mayTick = computed(
  () =>
    store.mayRemark &&
    store.current &&
    !!row.value &&
    ["proven", "ambiguous", "not-drawn", "reference"].includes(row.value.state),
);
/** Why this line cannot be ticked. */
const why = computed(() => {
  if (!store.mayRemark) return "Drafters and checkers tick lines; you may look.";
  if (!store.current) return "The lines are being proved again; tick when that is done.";
  const state = STATES[row.value?.state ?? ""]?.word ?? row.value?.state ?? "";
  return `#${row.value?.number} has no place to say yes to (${state}): choose its place in the proof first, or mend the line.`;
});
const lit = computed<Record<number, number[]>>(() => ({ 0: rival.value?.faces ?? row.value?.faces ?? [] }));
const first = computed(() => row.value?.statements[0] ?? "");
const page = computed(() => {
  const pages = store.sheet?.pages ?? [];
  return pages.find((p) => p.texts.some((t) => t.o === first.value)) ?? pages[0];
});
const prints = computed(() => source.id === store.id && (source.read?.prints ?? []).length > 0);
const when = (t: string) => new Date(t).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });

function show() {
  if (row.value) store.selected = row.value.key;
  void nextTick(() => (first.value ? board.value?.zoomTo(first.value, 0.14) : board.value?.fit()));
}
watch([() => row.value?.key, page], () => {
  looked.value = -1;
  asking.value = false;
  show();
});
// A line that is chosen elsewhere is gone to.
watch(
  () => store.selected,
  (key) => {
    const k = lines.value.findIndex((r) => r.key === key);
    if (k >= 0) at.value = k;
  },
);
onMounted(() => {
  if (store.job && source.id !== store.id) source.open(store.id, store.job.source);
  box.value?.focus();
});
// The paper is there once the sheet has come.
watch(board, (there) => there && show(), { immediate: true, flush: "post" });
function step(by: number) {
  at.value = Math.min(lines.value.length - 1, Math.max(0, at.value + by));
}
/** On to the next line that nobody ticked; there it stays when all are. */
function onward() {
  const order = [...lines.value.keys()].map((k) => (at.value + 1 + k) % lines.value.length);
  const next = order.find((k) => !lines.value[k]?.ticked);
  if (next !== undefined) at.value = next;
}
async function yes() {
  if (!row.value) return;
  if (!mayTick.value) return store.say(why.value);
  if (rival.value) {
    await store.link(row.value.number, rival.value.place);
    looked.value = -1;
    return;
  }
  if (await store.tick(row.value)) onward();
}
function other() {
  const count = row.value?.rivals.length ?? 0;
  if (count && store.mayEdit) looked.value = looked.value + 1 >= count ? -1 : looked.value + 1;
}
useEventListener(
  window,
  "keydown",
  (event) => {
    const on = event.target as HTMLElement;
    if (
      on.closest("input, textarea, [contenteditable], .ant-modal, .ant-select") ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey
    )
      return;
    const does: Record<string, () => void> = {
      y: () => void yes(),
      o: other,
      q: () => (asking.value = store.mayRemark),
      u: () => void (row.value?.ticked && store.untick(row.value)),
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
      Escape: () => (asking.value ? (asking.value = false) : emit("close")),
    };
    const run = does[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!run || (on.closest(".ledger") && event.key.startsWith("Arrow"))) return;
    event.preventDefault();
    event.stopPropagation();
    run();
  },
  { capture: true },
);
</script>

<template>
  <div ref="box" class="reading" tabindex="-1" aria-label="Read through">
    <header v-if="row">
      <p class="line" aria-live="polite">
        <span :class="`state-${row.state}`" role="img" :aria-label="STATES[row.state]?.word">{{
          STATES[row.state]?.mark
        }}</span>
        <b>#{{ row.number }}</b>
        <span class="sheet">{{ row.text }}</span>
        <span class="quiet">{{ row.where }}</span>
        <span class="quiet count tab">{{ ticked }} of {{ lines.length }} ticked</span>
      </p>
      <dl>
        <div>
          <dt>Place</dt>
          <dd>{{ rival?.measure ?? (row.measure || "none") }}</dd>
        </div>
        <div>
          <dt>Model</dt>
          <dd class="tab">{{ rival?.value_text ?? row.model_text ?? "–" }}</dd>
        </div>
        <div>
          <dt>Sheet</dt>
          <dd class="sheet">
            {{ rival ? "–" : row.how && row.statements.length ? row.how : (row.drawn_text ?? "not drawn") }}
          </dd>
        </div>
        <div v-if="row.limits">
          <dt>Limits</dt>
          <dd class="tab">{{ row.limits.map((x) => x ?? "–").join(" … ") }}</dd>
        </div>
      </dl>
      <p v-if="row.reason || row.likely" class="why">
        {{ [row.reason, row.likely && `likely: ${row.likely}`].filter(Boolean).join(" · ") }}
      </p>
      <p v-if="row.group.length" class="quiet why">
        {{ row.group.map((n) => `#${n}`).join(", ") }} {{ row.group.length === 1 ? "says" : "say" }} the same size and
        could change places with it.
      </p>
      <p v-if="row.tick_fell" class="why fell">
        The tick of {{ row.tick_fell.by }} ({{ when(row.tick_fell.at) }}) fell: {{ row.tick_fell.why }}.
      </p>
      <div class="do">
        <Press press="Y" primary :disabled="!mayTick" @press="yes">{{
          rival ? "It is this place" : row.ticked ? "Ticked; say yes again" : "Yes, so it is"
        }}</Press>
        <Press
          press="O"
          :tip="row.rivals.length ? 'Look at another place that it could mean' : 'Nothing else is like it'"
          :disabled="!row.rivals.length || !store.mayEdit"
          @press="other"
          >{{
            looked < 0 ? `Another place (${row.rivals.length})` : `${looked + 1} of ${row.rivals.length}; next`
          }}</Press
        >
        <Press press="Q" tip="Leave a remark" :disabled="!store.mayRemark" @press="asking = true">Ask</Press>
        <Press v-if="row.ticked" press="U" @press="store.untick(row)">Take the tick back</Press>
        <span v-if="row.ticked" class="quiet"
          ><span class="dot">•</span> {{ row.ticked.by }}, {{ when(row.ticked.at) }}</span
        >
        <span class="fill" />
        <Button aria-label="The line before" @click="step(-1)">↑</Button>
        <Button aria-label="The next line" @click="step(1)">↓</Button>
        <Press press="Esc" @press="emit('close')">Leave</Press>
      </div>
      <Remarks v-if="asking" :key="row.number" :statement="row.statements[0] ?? `#${row.number}`" open />
    </header>
    <div class="panes" :class="{ two: !prints }">
      <section aria-label="Place on the sheet">
        <h3>Sheet</h3>
        <Board
          v-if="page"
          ref="board"
          :page="page"
          :chosen="row?.statements ?? []"
          :chosen-view="null"
          :picking="false"
          :may-edit="false"
          :spoken="(o) => o"
          @choose="(o) => o && (store.selected = `s:${o}`)"
        />
      </section>
      <section aria-label="Place on the solid">
        <h3>Solid</h3>
        <Space
          v-if="store.solid"
          :key="store.solid.name + store.job?.model_id"
          :meshes="store.solid.meshes"
          :lit="lit"
        />
        <Skeleton v-else active />
      </section>
      <section v-if="prints" aria-label="Place on the print">
        <h3>Print</h3>
        <PrintPane still />
      </section>
    </div>
  </div>
</template>

<style scoped>
.reading {
  height: 100%;
  display: flex;
  flex-direction: column;
  min-height: 0;
  outline: none;
}
header {
  flex: none;
  background: var(--panel);
  border-bottom: 1px solid var(--rule);
  padding: 10px 14px;
}
.line {
  display: flex;
  gap: 10px;
  align-items: baseline;
  margin: 0 0 4px;
  font-size: 17px;
}
.line .quiet {
  font-size: 13px;
}
.count {
  margin-left: auto;
}
.sheet {
  font-family: "Canonis Sheet", sans-serif;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  margin: 0 0 4px;
}
dl > div {
  display: flex;
  gap: 6px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
.why {
  margin: 0 0 4px;
}
.fell {
  color: var(--vermilion);
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.fill {
  flex: 1;
}
.dot {
  color: var(--petrol);
  font-weight: 700;
}
.panes {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 1.2fr 1fr 1fr;
}
.panes.two {
  grid-template-columns: 1.2fr 1fr;
}
.panes > section {
  position: relative;
  min-width: 0;
  min-height: 0;
  border-right: 1px solid var(--rule);
  overflow: hidden;
  display: flex;
  flex-direction: column;
}
.panes > section > h3 {
  flex: none;
  margin: 0;
  padding: 4px 10px;
  font-size: 13px;
}
.panes > section > :not(h3) {
  flex: 1;
  min-height: 0;
}
</style>
