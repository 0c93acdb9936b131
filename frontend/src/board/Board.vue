<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, reactive, ref, shallowRef, watch } from "vue";
import { usePanZoom } from "../parts/panZoom";
import type { Drawing, Page, Pick } from "./types";

const props = defineProps<{
  page: Page;
  chosen: string[];
  /** The view that is selected. */
  chosenView: string | null;
  picking: boolean;
  /** What is being drawn on the selected view: a cutting line, a circle to enlarge, an outline to break open, a box to
   * show alone. */
  drawing?: Drawing;
  mayEdit: boolean;
  /** What a statement or a view is called when it is read out. */
  spoken: (owner: string) => string;
}>();
const emit = defineEmits<{
  choose: [owner: string | null];
  chooseView: [view: string];
  move: [owner: string, dx: number, dy: number];
  moveView: [view: string, dx: number, dy: number];
  pick: [pick: Pick];
  drawn: [points: [number, number][]];
}>();
const host = ref<SVGSVGElement>();
const drag = reactive({ kind: "" as "" | "pan" | "owner" | "view", owner: "", x: 0, y: 0, dx: 0, dy: 0 });
let fitted = true;
const {
  at: view,
  set,
  by,
} = usePanZoom(host, { least: 0.3, most: 60, drags: () => drag.kind === "pan", moved: () => (fitted = false) });
const space = ref(false);
/** Points drawn so far and where the pointer is, paper mm, y down. */
const points = ref<[number, number][]>([]);
const tip = ref<[number, number] | null>(null);
watch(
  () => props.drawing,
  () => {
    points.value = [];
    tip.value = null;
  },
);
const sketch = computed(() => [...points.value, ...(tip.value ? [tip.value] : [])]);
function onPaper(event: PointerEvent): [number, number] {
  const box = host.value!.getBoundingClientRect();
  return [(event.clientX - box.left - view.x) / view.k, (event.clientY - box.top - view.y) / view.k];
}
/** What was drawn goes out, y up; too little of it is dropped. */
function finish() {
  const least = props.drawing === "open" ? 3 : 2;
  const done = points.value.filter((p, k, all) => !k || Math.hypot(p[0] - all[k - 1][0], p[1] - all[k - 1][1]) > 0.5);
  points.value = [];
  tip.value = null;
  if (done.length >= least)
    emit(
      "drawn",
      done.map(([x, y]) => [x, props.page.height - y]),
    );
}
/** By a press: a point; by a drag: a line or a circle at once. */
function drawDown(event: PointerEvent) {
  points.value.push(onPaper(event));
  host.value?.setPointerCapture(event.pointerId);
}
function drawUp(event: PointerEvent) {
  const last = points.value[points.value.length - 1];
  if (!last) return;
  const here = onPaper(event);
  if (Math.hypot(here[0] - last[0], here[1] - last[1]) * view.k < 5) {
    if ((props.drawing === "enlarge" || props.drawing === "part") && points.value.length === 2) finish();
    return;
  }
  points.value.push(here);
  if (props.drawing !== "open") finish();
}

/** Everything that one owner draws, together, so that a drag moves one group. */
const groups = computed(() => {
  const map = new Map<
    string,
    {
      o: string;
      pictures: Page["pictures"];
      strokes: Page["strokes"];
      regions: Page["regions"];
      texts: Page["texts"];
    }
  >();
  const at = (o: string) => {
    let g = map.get(o);
    if (!g) map.set(o, (g = { o, pictures: [], strokes: [], regions: [], texts: [] }));
    return g;
  };
  for (const p of props.page.pictures) at(p.o).pictures.push(p);
  for (const s of props.page.strokes) at(s.o).strokes.push(s);
  for (const r of props.page.regions) at(r.o).regions.push(r);
  for (const t of props.page.texts) at(t.o).texts.push(t);
  return [...map.values()];
});
const views = computed(() => new Set(props.page.views.map((v) => v.id)));
const isStatement = (o: string) => !views.value.has(o) && o !== "frame" && o !== "title";
const firstPick = shallowRef<Pick | null>(null);
/** The pick that the keys stand at. */
const atPick = shallowRef<Pick | null>(null);
watch(
  () => props.picking,
  () => (firstPick.value = atPick.value = null),
);
/** Statements and views in the order they are read: from the top, row by row. */
const order = computed(() => {
  const places = groups.value
    .filter((g) => isStatement(g.o) && g.texts.length)
    .map((g) => ({ o: g.o, y: Math.min(...g.texts.map((t) => t.y)), x: Math.min(...g.texts.map((t) => t.x)) }));
  return places.sort((a, b) => Math.round(a.y / 6) - Math.round(b.y / 6) || a.x - b.x).map((p) => p.o);
});
/** Picks as the keys walk them: view by view, kind by kind. */
const picks = computed(() =>
  [...props.page.picks].sort((a, b) => a.view.localeCompare(b.view) || a.kind.localeCompare(b.kind) || a.p[0] - b.p[0]),
);
const said = ref("");
function sayPick(p: Pick): string {
  const kind = props.page.views.find((v) => v.id === p.view)?.kind ?? p.view;
  const same = picks.value.filter((q) => q.view === p.view && q.kind === p.kind);
  const lean = p.kind !== "edge" ? "" : p.p[0] === p.p[2] ? "upright " : p.p[1] === p.p[3] ? "level " : "sloped ";
  return `${lean}${p.kind} ${same.indexOf(p) + 1} of ${same.length} in the ${kind} view`;
}
/** One on, or one back, in what the keys walk just now. */
function walk(by: 1 | -1) {
  if (props.picking) {
    const list = firstPick.value ? picks.value.filter((p) => p.view === firstPick.value?.view) : picks.value;
    const at = atPick.value ? list.indexOf(atPick.value) : by > 0 ? -1 : 0;
    atPick.value = list[(at + by + list.length) % list.length] ?? null;
    if (atPick.value) said.value = sayPick(atPick.value);
    return;
  }
  const list = order.value;
  const at = list.indexOf(props.chosen[0] ?? "");
  const next = list[at < 0 ? (by > 0 ? 0 : list.length - 1) : (at + by + list.length) % list.length];
  if (next) {
    emit("choose", next);
    void nextTick(() => focus(next));
  }
}
function walkViews(by: 1 | -1) {
  const list = props.page.views.map((v) => v.id);
  const next = list[(list.indexOf(props.chosenView ?? "") + by + list.length) % list.length];
  if (!next) return;
  emit("chooseView", next);
  void nextTick(() => focus(next));
}
function focus(owner: string) {
  host.value?.querySelector<SVGGElement>(`[data-focus="${CSS.escape(owner)}"]`)?.focus({ preventScroll: true });
  show(owner);
}
/** Take the pick that the keys stand at. */
function take() {
  if (atPick.value) picked(atPick.value);
}
/** The room that an owner takes, paper mm. */
function room(owner: string): DOMRect | null {
  const box = props.page.views.find((v) => v.id === owner)?.box;
  if (box) return new DOMRect(box[0], box[1], box[2] - box[0], box[3] - box[1]);
  return host.value?.querySelector<SVGGElement>(`g[data-owner="${CSS.escape(owner)}"]`)?.getBBox() ?? null;
}
/** Bring an owner into sight without changing the zoom. */
function show(owner: string) {
  const box = host.value?.getBoundingClientRect();
  const r = room(owner);
  if (!box || !r) return;
  const x = (r.x + r.width / 2) * view.k + view.x;
  const y = (r.y + r.height / 2) * view.k + view.y;
  set({
    x: x < 0 || x > box.width ? view.x + box.width / 2 - x : view.x,
    y: y < 0 || y > box.height ? view.y + box.height / 2 - y : view.y,
    k: view.k,
  });
}
/** Zoom so that an owner is read well, with what stands around it; `fill` is its share of the window. */
function zoomTo(owner: string, fill = views.value.has(owner) ? 0.86 : 0.4) {
  const box = host.value?.getBoundingClientRect();
  const r = room(owner);
  if (!box || !r) return;
  fitted = false;
  const k = Math.min(14, (box.width * fill) / Math.max(r.width, 8), (box.height * fill) / Math.max(r.height, 8));
  set({ x: box.width / 2 - (r.x + r.width / 2) * k, y: box.height / 2 - (r.y + r.height / 2) * k, k });
}

function fit() {
  const box = host.value?.getBoundingClientRect();
  if (!box || !box.width) return;
  fitted = true;
  const k = Math.min((box.width - 24) / props.page.width, (box.height - 24) / props.page.height);
  set({ x: (box.width - props.page.width * k) / 2, y: (box.height - props.page.height * k) / 2, k });
}
function zoom(factor: number) {
  fitted = false;
  by(factor);
}
function down(event: PointerEvent) {
  const target = (event.target as Element).closest("[data-owner]");
  const owner = target?.getAttribute("data-owner") ?? "";
  const pan = event.button === 1 || space.value;
  Object.assign(drag, { kind: "", x: event.clientX, y: event.clientY, dx: 0, dy: 0, owner });
  if (pan) drag.kind = "pan";
  else if (event.button !== 0) return;
  else if (props.drawing) return drawDown(event);
  else if (props.picking) return;
  else if (owner && isStatement(owner)) {
    emit("choose", owner);
    drag.kind = props.mayEdit ? "owner" : "";
  } else if (owner && views.value.has(owner)) {
    emit("chooseView", owner);
    drag.kind = props.mayEdit ? "view" : "";
  } else {
    emit("choose", null);
    drag.kind = "pan";
  }
  if (drag.kind && drag.kind !== "pan") host.value?.setPointerCapture(event.pointerId);
}
function moveTo(event: PointerEvent) {
  if (props.drawing && points.value.length) tip.value = onPaper(event);
  if (!drag.kind || drag.kind === "pan") return;
  drag.dx = (event.clientX - drag.x) / view.k;
  drag.dy = (event.clientY - drag.y) / view.k;
}
function up(event: PointerEvent) {
  if (props.drawing && !drag.kind) return drawUp(event);
  const { kind, owner, dx, dy } = drag;
  if ((kind === "owner" || kind === "view") && Math.hypot(dx, dy) * view.k > 4) {
    if (kind === "owner") emit("move", owner, dx, -dy);
    else emit("moveView", owner, dx, -dy);
    pending.value = { owner, dx, dy, version: props.page };
  }
  drag.kind = "";
}
/** A dropped group stays where it was dropped until the server's answer is drawn. */
const pending = ref<{ owner: string; dx: number; dy: number; version: Page } | null>(null);
watch(
  () => props.page,
  () => (pending.value = null),
);
/** What was dropped is drawn where the server has it: also where it refused the move. */
function release(owner: string) {
  if (pending.value?.owner === owner) pending.value = null;
}
function shift(owner: string): string | undefined {
  if ((drag.kind === "owner" || drag.kind === "view") && drag.owner === owner)
    return `translate(${drag.dx} ${drag.dy})`;
  if (pending.value?.owner === owner) return `translate(${pending.value.dx} ${pending.value.dy})`;
  return undefined;
}
function picked(p: Pick) {
  if (!firstPick.value) firstPick.value = p;
  atPick.value = null;
  emit("pick", p);
}
const keys = (event: KeyboardEvent) => {
  const typing = (event.target as Element).closest?.("input,textarea,select,button");
  if (event.code === "Space" && !typing) {
    space.value = event.type === "keydown";
    event.preventDefault();
  }
};
let watcher: ResizeObserver | undefined;
onMounted(() => {
  fit();
  watcher = new ResizeObserver(() => fitted && fit());
  watcher.observe(host.value!);
  window.addEventListener("keydown", keys);
  window.addEventListener("keyup", keys);
});
onBeforeUnmount(() => {
  watcher?.disconnect();
  window.removeEventListener("keydown", keys);
  window.removeEventListener("keyup", keys);
});
watch(() => props.page.size, fit);
defineExpose({ fit, zoom, zoomTo, walk, walkViews, take, atPick, finish, release });
</script>

<template>
  <svg
    ref="host"
    class="board"
    :class="{ picking: picking || !!drawing, drawing: !!drawing, panning: space }"
    role="group"
    tabindex="0"
    :aria-label="`Sheet ${page.number}, ${page.size}: ${order.length} statements in ${page.views.length} views. Full stop and comma go from one to the next, V from view to view.`"
    @pointerdown="down"
    @pointermove="moveTo"
    @pointerup="up"
    @pointercancel="up"
  >
    <g :transform="`translate(${view.x} ${view.y}) scale(${view.k})`">
      <rect :width="page.width" :height="page.height" class="paper" />
      <rect
        v-for="v in page.views"
        :key="v.id"
        class="grip"
        :class="{ on: v.id === chosenView }"
        :data-owner="v.id"
        :data-focus="v.id"
        role="button"
        tabindex="-1"
        :aria-label="spoken(v.id)"
        :aria-pressed="v.id === chosenView"
        :transform="shift(v.id)"
        :x="v.box[0] - 2"
        :y="v.box[1] - 2"
        :width="v.box[2] - v.box[0] + 4"
        :height="v.box[3] - v.box[1] + 4"
      />
      <g
        v-for="g in groups"
        :key="g.o"
        :data-owner="g.o"
        :transform="shift(g.o)"
        :class="{ statement: isStatement(g.o), chosen: chosen.includes(g.o), still: !isStatement(g.o) }"
        v-bind="
          isStatement(g.o)
            ? {
                role: 'button',
                tabindex: -1,
                'data-focus': g.o,
                'aria-label': spoken(g.o),
                'aria-pressed': chosen.includes(g.o),
              }
            : { 'aria-hidden': true }
        "
      >
        <template v-if="chosen.includes(g.o)">
          <path v-for="(s, k) in g.strokes" :key="`h${k}`" :d="s.d" class="halo" />
          <text
            v-for="(t, k) in g.texts"
            :key="`g${k}`"
            class="glow"
            :font-size="t.h"
            :transform="`translate(${t.x} ${t.y}) rotate(${t.a})`"
          >
            {{ t.t }}
          </text>
        </template>
        <image
          v-for="(p, k) in g.pictures"
          :key="`p${k}`"
          :href="p.href"
          :x="p.x"
          :y="p.y"
          :width="p.w"
          :height="p.h"
          preserveAspectRatio="none"
        />
        <path
          v-for="(s, k) in g.strokes"
          :key="k"
          :d="s.d"
          :stroke-width="s.w"
          :stroke-dasharray="s.dash.join(' ') || undefined"
          class="stroke"
        />
        <path v-for="(r, k) in g.regions" :key="`r${k}`" :d="r.d" class="region" />
        <template v-if="isStatement(g.o)">
          <path v-for="(s, k) in g.strokes" :key="`c${k}`" :d="s.d" class="catch" />
        </template>
        <text
          v-for="(t, k) in g.texts"
          :key="`t${k}`"
          :font-size="t.h"
          :transform="`translate(${t.x} ${t.y}) rotate(${t.a})`"
        >
          {{ k + 1 < g.texts.length ? `${t.t} ` : t.t }}
        </text>
      </g>
      <g v-if="drawing && sketch.length" class="sketch">
        <circle
          v-if="drawing === 'enlarge' && sketch.length > 1"
          :cx="sketch[0][0]"
          :cy="sketch[0][1]"
          :r="Math.hypot(sketch[1][0] - sketch[0][0], sketch[1][1] - sketch[0][1])"
        />
        <rect
          v-else-if="drawing === 'part' && sketch.length > 1"
          :x="Math.min(sketch[0][0], sketch[1][0])"
          :y="Math.min(sketch[0][1], sketch[1][1])"
          :width="Math.abs(sketch[1][0] - sketch[0][0])"
          :height="Math.abs(sketch[1][1] - sketch[0][1])"
        />
        <polyline v-else :points="sketch.map((p) => p.join(',')).join(' ')" />
        <circle v-for="(p, k) in points" :key="k" class="dot" :cx="p[0]" :cy="p[1]" r="0.9" />
      </g>
      <g v-if="picking" class="picks">
        <template v-for="(p, k) in page.picks" :key="k">
          <line
            v-if="p.kind === 'edge'"
            :x1="p.p[0]"
            :y1="p.p[1]"
            :x2="p.p[2]"
            :y2="p.p[3]"
            :data-pick="k"
            :class="{ first: firstPick === p, at: atPick === p }"
            @click="picked(p)"
          />
        </template>
        <template v-for="(p, k) in page.picks" :key="`s${k}`">
          <circle
            v-if="p.kind !== 'edge'"
            :cx="p.p[0]"
            :cy="p.p[1]"
            :r="Math.min(1.6, 7 / view.k)"
            :data-pick="k"
            :class="[p.kind, { first: firstPick === p, at: atPick === p }]"
            @click="picked(p)"
          />
        </template>
      </g>
    </g>
  </svg>
  <span class="spoken" role="status">{{ said }}</span>
</template>

<style scoped src="./board.css"></style>
