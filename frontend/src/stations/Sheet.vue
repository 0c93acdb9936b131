<script setup lang="ts">
import { Button, Checkbox, Drawer, Input } from "ant-design-vue";
import { computed, onBeforeUnmount, onMounted, reactive, ref } from "vue";
import { api, take } from "../api/client";
import Board from "../board/Board.vue";
import type { Pick } from "../board/types";
import { useJob } from "../state";
import Choose from "../parts/Choose.vue";

const store = useJob();
const board = ref<InstanceType<typeof Board>>();
const picking = ref(false);
const setting = ref(false);
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

const front = computed(() => store.sheet?.front_reason.match(/from (..)/)?.[1]?.toLowerCase() ?? "auto");

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
  else if (event.key === "p") setting.value = !setting.value;
  else if (event.key === "Delete" && owner.value) remove();
  else if (owner.value && event.key.startsWith("Arrow") && !(event.target as Element).closest?.(".body")) {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]!;
    nudge(step[0] * 3.5, step[1] * 7);
  } else return;
  event.preventDefault();
}
onMounted(() => window.addEventListener("keydown", keys));
onBeforeUnmount(() => window.removeEventListener("keydown", keys));
defineExpose({ startPicking, remove, setUp: () => (setting.value = true), fit: () => board.value?.fit() });
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
        <Button :type="picking ? 'primary' : 'default'" :aria-pressed="!!picking" title="M" @click="startPicking"
          >Measure between two</Button
        >
        <template v-if="owner">
          <Button title="Delete" @click="remove">Delete “{{ row?.text ?? owner }}”</Button>
          <Button :type="moving ? 'primary' : 'default'" :aria-pressed="!!moving" @click="moving = !moving"
            >Move by …</Button
          >
          <form v-if="moving" class="by" @submit.prevent="typedMove" @keydown.esc="moving = false">
            <Input v-model:value="by.right" aria-label="Right, mm" /> right,
            <Input v-model:value="by.up" aria-label="Up, mm" /> up
            <Button html-type="submit">Move</Button>
          </form>
          <Button v-if="row?.state === 'differs-model'" @click="store.edit({ op: 'accept', id: owner })">
            Take the model's value
          </Button>
        </template>
        <Button :disabled="!store.sheet.can_undo" title="Ctrl Z" @click="store.undo()">Undo</Button>
        <Button :disabled="!store.sheet.can_redo" title="Ctrl Shift Z" @click="store.redo()">Redo</Button>
        <Button title="Place all rows and notes anew" @click="store.edit({ op: 'tidy' })">Tidy</Button>
      </template>
      <span class="spring" />
      <Button v-if="store.mayEdit" title="P" :aria-expanded="setting" @click="setting = !setting">Page …</Button>
      <Choose
        v-if="store.sheet.pages.length > 1"
        v-model:value="number"
        aria-label="Sheet number"
        :options="store.sheet.pages.map((p) => ({ value: p.number, label: `sheet ${p.number}` }))"
      />
      <Button title="0" @click="board?.fit()">Fit</Button>
    </div>
    <Drawer
      v-if="store.sheet && page"
      v-model:open="setting"
      title="How the page is set up"
      :width="300"
      :mask="false"
      root-class-name="setup"
      :get-container="false"
    >
      <label
        >Size
        <Choose
          :value="store.sheet.size"
          aria-label="Sheet size"
          :options="sizes.map((value) => ({ value }))"
          @change="(v) => store.edit({ op: 'set', what: 'size', value: String(v) })"
      /></label>
      <label
        >Scale
        <Choose
          :value="scaleNow"
          aria-label="Scale"
          :options="[...new Set([scaleNow, ...scales])].map((value) => ({ value }))"
          @change="(v) => store.edit({ op: 'set', what: 'scale', value: String(v) })"
      /></label>
      <label
        >Angle
        <Choose
          :value="store.sheet.projection"
          aria-label="Projection"
          :options="[{ value: 'first' }, { value: 'third' }]"
          @change="(v) => store.edit({ op: 'set', what: 'projection', value: v === 'third' ? 'third' : 'first' })"
      /></label>
      <label :title="store.sheet.front_reason"
        >Front from
        <Choose
          :value="front"
          aria-label="Front view"
          :options="['-y', '+y', '+x', '-x', '+z', '-z'].map((value) => ({ value, label: value.toUpperCase() }))"
          @change="(v) => store.redraft({ front: v as never })"
      /></label>
      <label
        >Datum
        <Choose
          :value="store.sheet.datum"
          aria-label="Datum corner"
          :options="[...new Set([store.sheet.datum, ...corners])].map((value) => ({ value }))"
          @change="(v) => store.redraft({ datum: String(v) })"
      /></label>
      <fieldset>
        <legend>Hidden lines in</legend>
        <Checkbox
          v-for="v in page.views.filter((x) => x.kind !== 'pictorial')"
          :key="v.id"
          :checked="v.hidden"
          @change="store.edit({ op: 'set', what: 'hidden', view: v.id, value: !v.hidden })"
          >{{ v.kind }}</Checkbox
        >
      </fieldset>
      <p class="quiet">Another front or datum drafts the sheet anew; what you added stays on it.</p>
    </Drawer>
  </div>
</template>

<style scoped>
.sheet {
  position: relative;
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
label:not(.ant-checkbox-wrapper) {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
  color: var(--quiet);
  margin-bottom: 8px;
}
fieldset {
  border: 1px solid var(--rule);
  padding: 2px 10px 8px;
  margin: 4px 0 10px;
}
fieldset .ant-checkbox-wrapper {
  margin-inline: 0 10px;
}
legend {
  font-size: 13px;
  color: var(--quiet);
  padding: 0 4px;
}
.by :deep(input) {
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
