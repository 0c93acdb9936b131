<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, reactive, ref } from "vue";
import { api, take } from "../api/client";
import Board from "../board/Board.vue";
import type { Pick } from "../board/types";
import { useJob } from "../state";

const store = useJob();
const board = ref<InstanceType<typeof Board>>();
const picking = ref(false);
const first = ref<Pick | null>(null);
const number = ref(1);
const page = computed(() => store.sheet?.pages.find((p) => p.number === number.value) ?? store.sheet?.pages[0]);
const owner = computed(() => (store.chosen.length === 1 ? store.chosen[0] : null));
const row = computed(() => store.proof?.ledger.find((r) => r.key === `s:${owner.value}`));
const sizes = computed(() =>
  store.sheet?.style === "asme" ? ["A", "B", "C", "D", "E"] : ["A4", "A3", "A2", "A1", "A0"],
);
const scales = ["10:1", "5:1", "2:1", "1:1", "1:2", "1:5", "1:10", "1:20", "1:50"];
const scaleNow = computed(() => {
  const s = store.sheet?.scale ?? 1;
  return s >= 1 ? `${s}:1` : `1:${Math.round(1 / s)}`;
});
const corners = [
  "auto",
  "left-front-bottom",
  "right-front-bottom",
  "left-back-bottom",
  "left-front-top",
  "right-back-top",
];

function choose(o: string | null) {
  store.selected = o ? `s:${o}` : null;
}
function pick(p: Pick) {
  if (!first.value) {
    first.value = p;
    store.say(`First ${p.kind} picked; now the second.`);
    return;
  }
  const from = first.value;
  first.value = null;
  picking.value = false;
  store.say("");
  if (from.view !== p.view) {
    store.say("Both must be picked in the same view.");
    return;
  }
  void store.edit({ op: "add-linear", view: p.view, refs: [from.ref, p.ref] });
}
function startPicking() {
  picking.value = !picking.value;
  first.value = null;
  store.say(picking.value ? "Pick two edges, points or centres in one view. Esc leaves." : "");
}
function remove() {
  if (owner.value) void store.edit({ op: "remove", id: owner.value });
  store.selected = null;
}
function nudge(dx: number, dy: number) {
  if (owner.value) void store.edit({ op: "move", id: owner.value, dx, dy });
}
const moving = ref(false);
const by = reactive({ right: "0", up: "7" });
/** Move by typed amounts: mm on the paper, or any expression of the workings pad. */
async function typedMove() {
  const amounts = await store.guard(() => Promise.all([by.right, by.up].map((text) => workOut(text))));
  if (!amounts) return;
  nudge(amounts[0], amounts[1]);
  moving.value = false;
}
async function workOut(text: string): Promise<number> {
  const made = await take(
    api.POST("/api/jobs/{job_id}/work-out", { params: { path: { job_id: store.id } }, body: { text } }),
  );
  if (made.fault) throw new Error(`“${text}”: ${made.fault as string}.`);
  return made.value as number;
}
function keys(event: KeyboardEvent) {
  if ((event.target as Element).closest?.("input,textarea,select,[role=dialog]")) return;
  const ctrl = event.ctrlKey || event.metaKey;
  if (ctrl && event.key.toLowerCase() === "z") void (event.shiftKey ? store.redo() : store.undo());
  else if (ctrl) return;
  else if (event.key === "0") board.value?.fit();
  else if (event.key === "+") board.value?.zoom(1.25);
  else if (event.key === "-") board.value?.zoom(0.8);
  else if (event.key === "Escape") {
    if (picking.value) startPicking();
    else store.selected = null;
  } else if (!store.mayEdit) return;
  else if (event.key === "m") startPicking();
  else if (event.key === "Delete" && owner.value) remove();
  else if (owner.value && event.key.startsWith("Arrow") && !(event.target as Element).closest?.(".body")) {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]!;
    nudge(step[0] * 3.5, step[1] * 7);
  } else return;
  event.preventDefault();
}
onMounted(() => window.addEventListener("keydown", keys));
onBeforeUnmount(() => window.removeEventListener("keydown", keys));
defineExpose({ startPicking, remove, fit: () => board.value?.fit() });
</script>

<template>
  <div class="sheet">
    <div v-if="store.sheet && page" class="paperwrap">
      <Board
        ref="board"
        :page="page"
        :chosen="store.chosen"
        :picking="picking"
        :may-edit="store.mayEdit"
        @choose="choose"
        @pick="pick"
        @move="(o, dx, dy) => store.edit({ op: 'move', id: o, dx, dy })"
        @move-view="(v, dx, dy) => store.edit({ op: 'move-view', id: v, dx, dy })"
      />
    </div>
    <div v-else class="empty">
      <h2>No sheet yet</h2>
      <p>Bring in a STEP file and a complete first sheet is drafted from it, unasked.</p>
    </div>
    <div v-if="store.sheet && page" class="dock" role="toolbar" aria-label="Verbs">
      <template v-if="store.mayEdit">
        <button class="plain" :class="{ on: picking }" title="M" @click="startPicking">Measure between two</button>
        <template v-if="owner">
          <button class="plain" title="Delete" @click="remove">Delete “{{ row?.text ?? owner }}”</button>
          <button class="plain" :class="{ on: moving }" @click="moving = !moving">Move by …</button>
          <form v-if="moving" class="by" @submit.prevent="typedMove" @keydown.esc="moving = false">
            <input v-model="by.right" aria-label="Right, mm" /> right, <input v-model="by.up" aria-label="Up, mm" /> up
            <button class="plain">Move</button>
          </form>
          <button v-if="row?.state === 'differs-model'" class="plain" @click="store.edit({ op: 'accept', id: owner })">
            Take the model's value
          </button>
        </template>
        <button class="plain" :disabled="!store.sheet.can_undo" title="Ctrl Z" @click="store.undo()">Undo</button>
        <button class="plain" :disabled="!store.sheet.can_redo" title="Ctrl Shift Z" @click="store.redo()">Redo</button>
        <button class="plain" title="Place all rows and notes anew" @click="store.edit({ op: 'tidy' })">Tidy</button>
      </template>
      <span class="spring" />
      <template v-if="store.mayEdit">
        <label
          >Sheet
          <select
            :value="store.sheet.size"
            aria-label="Sheet size"
            @change="store.edit({ op: 'set', what: 'size', value: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="s in sizes" :key="s">{{ s }}</option>
          </select></label
        >
        <label
          >Scale
          <select
            :value="scaleNow"
            aria-label="Scale"
            @change="store.edit({ op: 'set', what: 'scale', value: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="s in [...new Set([scaleNow, ...scales])]" :key="s">{{ s }}</option>
          </select></label
        >
        <label
          >Angle
          <select
            :value="store.sheet.projection"
            aria-label="Projection"
            @change="
              store.edit({
                op: 'set',
                what: 'projection',
                value: ($event.target as HTMLSelectElement).value === 'third' ? 'third' : 'first',
              })
            "
          >
            <option value="first">first</option>
            <option value="third">third</option>
          </select></label
        >
        <label :title="store.sheet.front_reason"
          >Front from
          <select
            value=""
            aria-label="Front view"
            @change="store.redraft({ front: ($event.target as HTMLSelectElement).value as never })"
          >
            <option value="" disabled>{{ store.sheet.front_reason.match(/from (..)/)?.[1] ?? "auto" }}</option>
            <option v-for="f in ['-y', '+y', '+x', '-x', '+z', '-z']" :key="f" :value="f">{{ f.toUpperCase() }}</option>
          </select></label
        >
        <label
          >Datum
          <select
            :value="store.sheet.datum"
            aria-label="Datum corner"
            @change="store.redraft({ datum: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="c in [...new Set([store.sheet.datum, ...corners])]" :key="c">{{ c }}</option>
          </select></label
        >
        <label
          >Hidden
          <select
            value=""
            aria-label="Hidden lines"
            @change="
              (e) => {
                const v = page!.views.find((x) => x.id === (e.target as HTMLSelectElement).value);
                if (v) void store.edit({ op: 'set', what: 'hidden', view: v.id, value: !v.hidden });
                (e.target as HTMLSelectElement).value = '';
              }
            "
          >
            <option value="" disabled>views …</option>
            <option v-for="v in page.views.filter((x) => x.kind !== 'pictorial')" :key="v.id" :value="v.id">
              {{ v.hidden ? "◆" : "◇" }} {{ v.kind }}
            </option>
          </select></label
        >
      </template>
      <select v-if="store.sheet.pages.length > 1" v-model="number" aria-label="Sheet number">
        <option v-for="p in store.sheet.pages" :key="p.number" :value="p.number">sheet {{ p.number }}</option>
      </select>
      <button class="plain" title="0" @click="board?.fit()">Fit</button>
    </div>
  </div>
</template>

<style scoped>
.sheet {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.paperwrap {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
.dock {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  padding: 6px 10px;
  background: var(--panel);
  border-top: 1px solid var(--rule);
}
.dock label {
  display: flex;
  gap: 4px;
  align-items: center;
  color: var(--quiet);
  font-size: 13px;
}
.dock select {
  max-width: 132px;
  font-size: 13px;
  color: var(--ink);
}
.by input {
  width: 62px;
}
.spring {
  flex: 1;
}
.empty {
  flex: 1;
  display: grid;
  place-content: center;
  text-align: center;
}
</style>
