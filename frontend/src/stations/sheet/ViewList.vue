<script setup lang="ts">
import { Button, Checkbox, Drawer, Form, FormItem, Input, InputNumber, Popconfirm, Switch } from "ant-design-vue";
import { computed, reactive, ref } from "vue";
import type { Page } from "../../board/types";
import Choose from "../../parts/Choose.vue";
import { useJob } from "../../state";

/** The views of a sheet: what each shows, why it is there, how it is drawn; and new ones by typed figures. */
const props = defineProps<{ page: Page; pages: Page[]; chosen: string | null }>();
const open = defineModel<boolean>("open", { required: true });
const emit = defineEmits<{ choose: [view: string] }>();
const store = useJob();
type ViewRow = Page["views"][number];

const TRANSITIONS = [
  { value: "out", label: "left out" },
  { value: "thin", label: "thin" },
  { value: "drawn", label: "drawn" },
] as const;
const SCALES = ["20:1", "10:1", "5:1", "4:1", "2:1", "1:1", "1:2", "1:5", "1:10"];
const scales = (now: string) => [...new Set([now, ...SCALES])].map((value) => ({ value }));
/** Views that another can be taken of. */
const parents = computed(() =>
  props.page.views.filter((v) => v.parent_of).map((v) => ({ value: v.id, label: v.name })),
);
const missing = computed(() =>
  ["front", "back", "top", "bottom", "left", "right", "pictorial"]
    .filter((kind) => kind === "pictorial" || !props.page.views.some((v) => v.kind === kind))
    .map((value) => ({ value })),
);
const sheets = computed(() =>
  [...props.pages.map((p) => p.number), props.pages.length + 1].map((value) => ({
    value,
    label: value > props.pages.length ? `new sheet ${value}` : `sheet ${value}`,
  })),
);
function set(view: ViewRow, change: Record<string, unknown>) {
  void store.edit({ op: "set-view", id: view.id, ...change });
}
function caption(view: ViewRow, event: Event) {
  const label = (event.target as HTMLInputElement).value.trim();
  if (label !== view.label) set(view, { label });
}
/** Typed figures: a stretch to take out of a long view, a box on the paper. */
const stretch = ref("");
const box = ref("");
const figures = (text: string) =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number);
function shorten(view: ViewRow) {
  const [from, to, ...rest] = figures(stretch.value);
  if (stretch.value.trim() && (rest.length || !Number.isFinite(from) || !Number.isFinite(to)))
    return store.say(
      "Type two figures, from and to, in mm from the datum; or none to let the longest empty stretch go.",
    );
  const tall = view.box[3] - view.box[1] > view.box[2] - view.box[0];
  const levels: [number, number] | null = stretch.value.trim() ? [from, to] : null;
  void store.edit({ op: "shorten-view", view: view.id, along: tall ? "y" : "x", levels, whole: false });
}
function boxed(view: ViewRow, how: "part" | "open") {
  const b = figures(box.value);
  if (b.length !== 4 || !b.every(Number.isFinite))
    return store.say("Type four figures: left, bottom, right and top of the box, in mm on the paper.");
  if (how === "part") return set(view, { window: b });
  const [l, low, r, top] = b;
  const points: [number, number][] = [
    [l, low],
    [r, low],
    [r, top],
    [l, top],
  ];
  void store.edit({ op: "open-view", view: view.id, points });
}
const adding = ref<"" | "section" | "detail" | "view">("");
const cut = reactive({ view: "", across: "x" as "x" | "y", level: 0, form: "full" as "full" | "half", turned: false });
const spot = reactive({ view: "", x: 0, y: 0, radius: 8, scale: "auto" });
const more = reactive({ kind: "pictorial", corner: "front-right", below: false });
const CORNERS = ["front-right", "front-left", "back-right", "back-left"] as const;
function start(what: "section" | "detail" | "view") {
  adding.value = adding.value === what ? "" : what;
  const first = parents.value.find((p) => p.value === props.chosen)?.value ?? parents.value[0]?.value ?? "";
  cut.view = spot.view = first;
}
async function addSection() {
  const { view, across, level, form, turned } = cut;
  await store.edit({ op: "add-section", view, across, level: Number(level), points: [], form, turned });
  adding.value = "";
}
async function addDetail() {
  const { view, x, y, radius, scale } = spot;
  await store.edit({
    op: "add-detail",
    view,
    levels: [Number(x), Number(y)],
    radius: Number(radius),
    scale,
    form: "circle",
  });
  adding.value = "";
}
async function addView() {
  const kind = more.kind as "front" | "back" | "top" | "bottom" | "left" | "right" | "pictorial";
  const corner = CORNERS.find((c) => c === more.corner) ?? "front-right";
  await store.edit({ op: "add-view", kind, sheet: props.page.number, corner, below: more.below });
  adding.value = "";
}
</script>

<template>
  <Drawer
    v-model:open="open"
    title="Views of this sheet"
    :width="340"
    :mask="false"
    root-class-name="views"
    :get-container="false"
  >
    <ol class="list" aria-label="Views">
      <li v-for="(v, k) in page.views" :key="v.id" :class="{ on: v.id === chosen }">
        <div class="head">
          <Button type="link" class="name" @click="emit('choose', v.id)">{{ v.name }}</Button>
          <span class="quiet"
            >{{ v.scale_text }}{{ v.partial ? " · in part" : "" }}{{ v.opened ? " · cut open" : ""
            }}{{ v.broken ? " · shortened" : "" }}{{ v.ribs && !v.hatched ? " · ribs not hatched" : "" }}</span
          >
          <span v-if="v.lost" class="lost">✕ lost what it was held by</span>
          <span class="spring" />
          <template v-if="store.mayEdit">
            <Button
              size="small"
              :aria-label="`${v.name} earlier in the list`"
              :disabled="k === 0"
              @click="set(v, { order: k - 1 })"
              >↑</Button
            >
            <Popconfirm
              :title="`Take ${v.name} off the sheet, with its statements?`"
              ok-text="Take it off"
              cancel-text="Keep it"
              @confirm="store.edit({ op: 'remove-view', id: v.id })"
            >
              <Button size="small" :aria-label="`Take ${v.name} off`">✕</Button>
            </Popconfirm>
          </template>
        </div>
        <p v-if="v.reason" class="quiet reason">{{ v.reason }}</p>
        <div v-if="store.mayEdit && v.id === chosen" class="how">
          <Checkbox v-if="v.kind !== 'pictorial'" :checked="v.hidden" @change="set(v, { hidden: !v.hidden })"
            >hidden lines</Checkbox
          >
          <Checkbox
            v-if="v.principal && v.kind !== 'front'"
            :checked="v.aligned"
            @change="set(v, { aligned: !v.aligned })"
            >kept in projection</Checkbox
          >
          <Checkbox v-if="v.kind === 'section'" :checked="false" @change="set(v, { turned: true })"
            >look the other way</Checkbox
          >
          <Checkbox v-if="v.kind === 'pictorial'" :checked="v.shaded" @change="set(v, { shaded: !v.shaded })"
            >shaded</Checkbox
          >
          <Checkbox v-if="v.threads" :checked="v.helices" @change="set(v, { helices: !v.helices })"
            >threads with every turn</Checkbox
          >
          <Checkbox v-if="v.ribs" :checked="v.hatched" @change="set(v, { hatched: !v.hatched })"
            >hatch the ribs cut lengthwise</Checkbox
          >
          <label
            >Smooth transitions
            <Choose
              :value="v.transitions"
              aria-label="Smooth transitions"
              :options="[...TRANSITIONS]"
              @change="(value) => set(v, { transitions: value })"
          /></label>
          <label v-if="!v.principal"
            >Scale
            <Choose
              :value="v.scale_text"
              aria-label="Scale of the view"
              :options="scales(v.scale_text)"
              @change="(value) => set(v, { scale: value })"
          /></label>
          <label
            >Caption
            <Input
              :key="v.label"
              :default-value="v.label"
              placeholder="its own"
              aria-label="Caption of the view"
              @press-enter="(e: Event) => caption(v, e)"
              @blur="(e: Event) => caption(v, e)"
          /></label>
          <label
            >Sheet
            <Choose
              :value="v.sheet"
              aria-label="Sheet of the view"
              :options="sheets"
              @change="(value) => store.edit({ op: 'view-to-sheet', id: v.id, sheet: value })"
          /></label>
          <template v-if="v.principal || v.kind === 'section'">
            <label
              >Shorten, mm
              <Input
                v-model:value="stretch"
                placeholder="from, to · or empty"
                aria-label="Stretch to take out, from and to in mm from the datum"
                @press-enter="shorten(v)"
            /></label>
            <span class="act">
              <Button size="small" @click="shorten(v)">Shorten</Button>
              <Button
                v-if="v.broken"
                size="small"
                @click="store.edit({ op: 'shorten-view', view: v.id, along: 'x', whole: true })"
                >Show in full</Button
              >
            </span>
          </template>
          <template v-if="v.principal">
            <label
              >Box on paper, mm
              <Input
                v-model:value="box"
                placeholder="left, bottom, right, top"
                aria-label="Box on the paper: left, bottom, right, top, mm"
            /></label>
            <span class="act">
              <Button size="small" @click="boxed(v, 'part')">Show only it</Button>
              <Button size="small" @click="boxed(v, 'open')">Break it open</Button>
            </span>
          </template>
          <Button v-if="v.partial && v.kind !== 'detail'" size="small" @click="set(v, { window: [] })"
            >Show it whole</Button
          >
          <Button v-if="v.opened" size="small" @click="store.edit({ op: 'open-view', view: v.id, points: [] })"
            >Close the cut</Button
          >
        </div>
      </li>
    </ol>
    <template v-if="store.mayEdit">
      <div class="add">
        <Button :type="adding === 'section' ? 'primary' : 'default'" @click="start('section')">Section …</Button>
        <Button :type="adding === 'detail' ? 'primary' : 'default'" @click="start('detail')">Detail …</Button>
        <Button :type="adding === 'view' ? 'primary' : 'default'" @click="start('view')">View …</Button>
      </div>
      <Form
        v-if="adding === 'section'"
        layout="horizontal"
        :label-col="{ span: 9 }"
        :colon="false"
        @submit.prevent="addSection"
      >
        <FormItem label="Cut through"
          ><Choose v-model:value="cut.view" aria-label="View to cut" :options="parents"
        /></FormItem>
        <FormItem label="Line"
          ><Choose
            v-model:value="cut.across"
            aria-label="Course of the cutting line"
            :options="[
              { value: 'x', label: 'upright' },
              { value: 'y', label: 'level' },
            ]"
        /></FormItem>
        <FormItem label="From datum, mm"
          ><InputNumber v-model:value="cut.level" aria-label="Level of the cut, mm"
        /></FormItem>
        <FormItem label="Form"
          ><Choose
            v-model:value="cut.form"
            aria-label="Form of the section"
            :options="[
              { value: 'full', label: 'full' },
              { value: 'half', label: 'half' },
            ]"
        /></FormItem>
        <FormItem label="Other way"
          ><Switch v-model:checked="cut.turned" size="small" aria-label="Look the other way"
        /></FormItem>
        <Button type="primary" html-type="submit">Cut</Button>
      </Form>
      <Form
        v-if="adding === 'detail'"
        layout="horizontal"
        :label-col="{ span: 9 }"
        :colon="false"
        @submit.prevent="addDetail"
      >
        <FormItem label="Of"
          ><Choose v-model:value="spot.view" aria-label="View to enlarge" :options="parents"
        /></FormItem>
        <FormItem label="Right, mm"
          ><InputNumber v-model:value="spot.x" aria-label="Right of the datum, mm"
        /></FormItem>
        <FormItem label="Up, mm"><InputNumber v-model:value="spot.y" aria-label="Above the datum, mm" /></FormItem>
        <FormItem label="Radius on paper"
          ><InputNumber v-model:value="spot.radius" :min="1" aria-label="Radius on the paper, mm"
        /></FormItem>
        <FormItem label="Scale"
          ><Choose
            v-model:value="spot.scale"
            aria-label="Scale of the detail"
            :options="['auto', ...SCALES].map((value) => ({ value }))"
        /></FormItem>
        <Button type="primary" html-type="submit">Enlarge</Button>
      </Form>
      <Form
        v-if="adding === 'view'"
        layout="horizontal"
        :label-col="{ span: 9 }"
        :colon="false"
        @submit.prevent="addView"
      >
        <FormItem label="View"
          ><Choose v-model:value="more.kind" aria-label="Kind of view" :options="missing"
        /></FormItem>
        <template v-if="more.kind === 'pictorial'">
          <FormItem label="From corner"
            ><Choose
              v-model:value="more.corner"
              aria-label="Corner of the pictorial"
              :options="CORNERS.map((value) => ({ value }))"
          /></FormItem>
          <FormItem label="From below"
            ><Switch v-model:checked="more.below" size="small" aria-label="From below"
          /></FormItem>
        </template>
        <Button type="primary" html-type="submit">Add it</Button>
      </Form>
    </template>
    <p class="quiet">
      On the paper: select a view, then <kbd>X</kbd> draws a cutting line, <kbd>E</kbd> a circle to enlarge,
      <kbd>B</kbd> an outline to break it open, <kbd>W</kbd> a box to show alone, <kbd>A</kbd> folds at a sloped edge.
    </p>
  </Drawer>
</template>

<style scoped>
.list {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
}
.list li {
  border-bottom: 1px solid var(--rule);
  padding: 4px 6px;
}
.list li.on {
  background: #2f8f8318;
  outline: 1px solid var(--halo);
}
.head {
  display: flex;
  gap: 6px;
  align-items: center;
}
.name {
  padding: 0;
}
.spring {
  flex: 1;
}
.lost {
  color: var(--vermilion);
}
.reason {
  margin: 0 0 4px;
  font-size: 13px;
}
.how {
  display: grid;
  gap: 5px;
  padding: 2px 0 6px;
}
.how label:not(.ant-checkbox-wrapper) {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  align-items: center;
  color: var(--quiet);
}
.how .ant-checkbox-wrapper {
  margin-inline: 0;
}
.act {
  display: flex;
  gap: 6px;
}
.add {
  display: flex;
  gap: 6px;
  margin-bottom: 10px;
}
form :deep(.ant-form-item) {
  margin-bottom: 6px;
}
</style>
