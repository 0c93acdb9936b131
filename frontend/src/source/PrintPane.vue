<script setup lang="ts">
import { Button, Input, Popconfirm } from "ant-design-vue";
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { api, take } from "../api/client";
import { useJob } from "../state";
import { useLeaf } from "./print/leaf";
import { useRuler } from "./print/ruler";
import { next, toShown, toStored, type Quarter, type Spot } from "./print/turns";
import { useSource, type Line, type PrintCard } from "./store";
import { usePanZoom } from "../parts/panZoom";
import FilePick from "../parts/FilePick.vue";
import Choose from "../parts/Choose.vue";

/** Only to look at: without what changes a print. */
const props = defineProps<{ still?: boolean }>();
const emit = defineEmits<{ placed: [line: Line]; left: [] }>();
const source = useSource();
const job = useJob();
const at = ref(0);
const page = ref(1);
const pane = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { at: shift, set, by } = usePanZoom(pane, { least: 0.4, most: 14, drags: () => true });
const mode = ref<"look" | "flag" | "known" | "ruler">("look");
const cross = ref({ x: 0.5, y: 0.5 });
const known = ref("");
const asking = ref<{ focus: () => void }>();

const prints = computed<PrintCard[]>(() => source.read?.prints ?? []);
const print = computed(() => prints.value[Math.min(at.value, prints.value.length - 1)]);
const facts = computed(() => print.value?.pages[page.value - 1]);
const turn = computed(() => facts.value?.turn ?? 0);
/** Width and height of the page as it is shown, in its own points. */
const size = computed(() => {
  const f = facts.value ?? { width: 4, height: 3 };
  return turn.value % 180 ? { w: f.height, h: f.width } : { w: f.width, h: f.height };
});
const flags = computed(() =>
  source.lines.filter((l) => l.flag && l.flag.print_id === print.value?.id && l.flag.page === page.value),
);

const { opened, busy, fault, load, draw } = useLeaf(() => source.id, print, canvas);
const { ends, reading, read, calibration } = useRuler(facts);
const shown = (p: Spot) => toShown(turn.value, p);
const scale = computed(() => {
  const w = pane.value?.clientWidth ?? 400;
  const h = pane.value?.clientHeight ?? 500;
  return Math.min((w - 16) / size.value.w, (h - 16) / size.value.h) * shift.k;
});
const tick = ref(0);
const frame = computed(() => {
  void tick.value;
  return { width: size.value.w * scale.value, height: size.value.h * scale.value };
});
function fit() {
  set({ ...shift, k: 1 });
  tick.value++;
  const w = pane.value?.clientWidth ?? 0;
  const h = pane.value?.clientHeight ?? 0;
  set({ x: (w - frame.value.width) / 2, y: (h - frame.value.height) / 2, k: 1 });
}
const paint = () => draw(page.value, turn.value, size.value, frame.value.width);
let later = 0;
watch([opened, page, turn], () => void nextTick(() => (fit(), void paint())));
watch(scale, () => {
  clearTimeout(later);
  later = window.setTimeout(() => void paint(), 160);
});
watch(print, () => void load(), { immediate: true });
watch([at, page], () => (ends.value = []));
// The chosen line brings its flag into sight.
watch(
  () => source.at,
  () => {
    const flag = source.line?.flag;
    if (!flag || mode.value === "flag") return;
    const k = prints.value.findIndex((p) => p.id === flag.print_id);
    if (k >= 0) {
      at.value = k;
      page.value = flag.page;
    }
  },
);

let drag: { x: number; y: number; moved: boolean } | null = null;
function down(event: PointerEvent) {
  drag = { x: event.clientX, y: event.clientY, moved: false };
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent) {
  if (!drag) return;
  if (Math.hypot(event.clientX - drag.x, event.clientY - drag.y) > 3) drag.moved = true;
}
function up(event: PointerEvent) {
  const clicked = drag && !drag.moved;
  drag = null;
  if (!clicked || !pane.value) return;
  const box = pane.value.getBoundingClientRect();
  const p = {
    x: (event.clientX - box.x - shift.x) / frame.value.width,
    y: (event.clientY - box.y - shift.y) / frame.value.height,
  };
  if (p.x < 0 || p.x > 1 || p.y < 0 || p.y > 1) return;
  cross.value = p;
  mark();
}
/** What a press or Enter does at the cross: a flag, or an end of the ruler. */
function mark() {
  if (!print.value) return;
  if (mode.value === "flag" && source.line) {
    const stored = toStored(turn.value, cross.value);
    const flag = {
      print_id: print.value.id,
      page: page.value,
      x: Math.round(stored.x * 1e5) / 1e5,
      y: Math.round(stored.y * 1e5) / 1e5,
    };
    const line = source.line;
    source.edit(line, { flag });
    mode.value = "look";
    emit("placed", line);
  } else if (mode.value === "known" || mode.value === "ruler") {
    const end = toStored(turn.value, cross.value);
    ends.value = ends.value.length === 2 ? [end] : [...ends.value, end];
    if (ends.value.length === 2) {
      if (mode.value === "known") void nextTick(() => asking.value?.focus());
      else void read().catch((reason: Error) => (fault.value = reason.message));
    }
  }
}
async function calibrate() {
  try {
    await change({ mm_per_width: await calibration(known.value) });
    mode.value = "ruler";
    ends.value = [];
    reading.value = "The ruler is set; press two points to read a length.";
    pane.value?.focus();
  } catch (reason) {
    fault.value = (reason as Error).message;
  }
}
async function change(patch: { turn?: Quarter; mm_per_width?: number }) {
  if (!print.value) return;
  const path = { job_id: source.id, print_id: print.value.id };
  try {
    await take(
      api.PATCH("/api/jobs/{job_id}/prints/{print_id}", { params: { path }, body: { page: page.value, ...patch } }),
    );
    await source.refresh();
  } catch (reason) {
    fault.value = (reason as Error).message;
  }
}
function rotate() {
  void change({ turn: next(turn.value) });
}
// A print that was dropped on the page shows as soon as it is here.
watch(
  () => prints.value.length,
  (now, before) => {
    if (now <= before) return;
    at.value = now - 1;
    page.value = 1;
  },
);
async function bring(files: Iterable<File>) {
  for (const file of files) {
    busy.value = true;
    fault.value = "";
    try {
      await source.bringPrint(file);
      await source.refresh();
      at.value = prints.value.length - 1;
      page.value = 1;
    } catch (reason) {
      fault.value = (reason as Error).message;
    } finally {
      busy.value = false;
    }
  }
  void nextTick(() => {
    // Whoever has gone on to type elsewhere while the print was on its way keeps the keys.
    const active = document.activeElement;
    const here = pane.value?.closest("[aria-label='Source prints']");
    if (!active || active === document.body || here?.contains(active)) pane.value?.focus();
  });
}
async function drop() {
  if (!print.value) return;
  const path = { job_id: source.id, print_id: print.value.id };
  await take(api.DELETE("/api/jobs/{job_id}/prints/{print_id}", { params: { path } })).catch(
    (r: Error) => (fault.value = r.message),
  );
  at.value = 0;
  page.value = 1;
  await source.refresh();
}
function leaf(by: number) {
  const next = page.value + by;
  if (next >= 1 && next <= (print.value?.pages.length ?? 1)) page.value = next;
  else if (prints.value[at.value + by]) {
    at.value += by;
    page.value = by > 0 ? 1 : prints.value[at.value].pages.length;
  }
}
/** From one flag of this page to the next; F then moves it. */
function walk(by: 1 | -1) {
  const list = [...flags.value].sort((a, b) => Number(a.number) - Number(b.number));
  const k = list.findIndex((l) => l.id === source.at);
  const line = list[k < 0 ? (by > 0 ? 0 : list.length - 1) : (k + by + list.length) % list.length];
  if (!line) return;
  source.at = line.id;
  void nextTick(() => pane.value?.querySelector<HTMLElement>(".flag.on")?.focus());
}
function keys(event: KeyboardEvent) {
  const target = event.target as Element;
  if (target.closest("input,select") || (target.closest("button") && event.key === "Enter")) return;
  const step = event.shiftKey ? 0.05 : 0.01;
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (way)
    cross.value = {
      x: Math.min(1, Math.max(0, cross.value.x + way[0] * step)),
      y: Math.min(1, Math.max(0, cross.value.y + way[1] * step)),
    };
  else if (event.key === "." || event.key === ",") walk(event.key === "." ? 1 : -1);
  else if (event.key === "f" && job.mayEdit && source.line) place();
  else if (event.key === "Enter") mark();
  else if (event.key === "+" || event.key === "-") by(event.key === "+" ? 1.25 : 0.8);
  else if (event.key === "0") fit();
  else if (event.key === "PageDown" || event.key === "PageUp") leaf(event.key === "PageDown" ? 1 : -1);
  else if (event.key === "r" && job.mayEdit) rotate();
  else if (event.key === "Escape") {
    mode.value = "look";
    ends.value = [];
    reading.value = "";
    emit("left");
  } else return;
  event.preventDefault();
  event.stopPropagation();
}
/** Begin to place the flag of the line at work. */
function place() {
  mode.value = "flag";
  const flag = source.line?.flag;
  if (flag && flag.print_id === print.value?.id) {
    page.value = flag.page;
    cross.value = shown(flag);
  }
  void nextTick(() => pane.value?.focus());
}
const spot = (p: { x: number; y: number }) => ({
  left: `${p.x * frame.value.width}px`,
  top: `${p.y * frame.value.height}px`,
});
let watcher: ResizeObserver | undefined;
onMounted(() => {
  watcher = new ResizeObserver(() => fit());
  watcher.observe(pane.value!);
});
onBeforeUnmount(() => watcher?.disconnect());
defineExpose({ place });
</script>

<template>
  <section class="print" aria-label="Source prints">
    <header>
      <Choose
        v-if="prints.length"
        v-model:value="at"
        aria-label="Print"
        :options="prints.map((p, k) => ({ value: k, label: `${k + 1} · ${p.name}` }))"
        @change="page = 1"
      />
      <template v-if="print && print.pages.length > 1">
        <Button title="Page Up" :disabled="page === 1" @click="leaf(-1)">‹</Button>
        <span class="tab">{{ page }}/{{ print.pages.length }}</span>
        <Button title="Page Down" :disabled="page === print.pages.length" @click="leaf(1)">›</Button>
      </template>
      <span class="spring" />
      <FilePick
        v-if="job.mayEdit && !props.still"
        name="print-file"
        accept=".pdf,.png,.jpg,.jpeg"
        multiple
        @files="bring"
        >Add a print</FilePick
      >
    </header>
    <p v-if="fault" role="alert" class="fault">{{ fault }} <Button @click="fault = ''">Close</Button></p>
    <div
      ref="pane"
      class="pane"
      :class="`to-${mode}`"
      tabindex="0"
      role="application"
      :aria-label="
        print
          ? `${print.name}, page ${page}; arrows move the cross, Enter marks, full stop and comma go from flag to flag, F moves one`
          : 'No print yet'
      "
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @keydown="keys"
    >
      <div
        v-if="print"
        class="leaf"
        :style="{
          width: `${frame.width}px`,
          height: `${frame.height}px`,
          transform: `translate(${shift.x}px, ${shift.y}px)`,
        }"
      >
        <canvas ref="canvas" />
        <svg v-if="ends.length" class="rule" :viewBox="`0 0 ${frame.width} ${frame.height}`">
          <line
            v-if="ends.length === 2"
            :x1="shown(ends[0]).x * frame.width"
            :y1="shown(ends[0]).y * frame.height"
            :x2="shown(ends[1]).x * frame.width"
            :y2="shown(ends[1]).y * frame.height"
          />
          <circle
            v-for="(p, k) in ends"
            :key="k"
            :cx="shown(p).x * frame.width"
            :cy="shown(p).y * frame.height"
            r="4"
          />
        </svg>
        <Button
          type="text"
          v-for="l in flags"
          :key="l.id"
          class="bare flag"
          :class="{ on: source.at === l.id }"
          :style="spot(shown(l.flag!))"
          :title="l.text"
          :aria-label="`flag ${l.number}: ${l.text}`"
          :aria-pressed="source.at === l.id"
          tabindex="-1"
          @pointerdown.stop
          @click="source.at = l.id"
        >
          {{ l.number }}
        </Button>
        <i v-if="mode !== 'look'" class="cross" :style="spot(cross)" aria-hidden="true" />
      </div>
      <div v-else class="none">
        <p>
          The print, table or sketch that the part was made from: PDF, PNG or JPEG.<br />Flags placed on it belong to
          lines of the list.
        </p>
      </div>
      <span v-if="busy" class="busy">working …</span>
    </div>
    <footer v-if="print && !props.still">
      <Button
        v-if="job.mayEdit"
        :type="mode === 'flag' ? 'primary' : 'default'"
        :aria-pressed="!!(mode === 'flag')"
        :disabled="!source.line"
        title="F2"
        @click="place"
      >
        Flag for {{ source.line?.number ?? "…" }}
      </Button>
      <Button
        v-if="job.mayEdit"
        :type="mode === 'known' ? 'primary' : 'default'"
        :aria-pressed="!!(mode === 'known')"
        @click="((mode = 'known'), (ends = []), pane?.focus())"
      >
        Set the ruler
      </Button>
      <Button
        :type="mode === 'ruler' ? 'primary' : 'default'"
        :aria-pressed="!!(mode === 'ruler')"
        :disabled="!facts?.mm_per_width"
        @click="((mode = 'ruler'), (ends = []), pane?.focus())"
      >
        Measure
      </Button>
      <Button v-if="job.mayEdit" title="R" @click="rotate">Turn</Button>
      <Button title="0" @click="fit">Fit</Button>
      <Button :href="`/api/jobs/${source.id}/prints/${print.id}/flagged`">Flagged PDF</Button>
      <Popconfirm
        v-if="job.mayEdit"
        :title="`Remove “${print.name}” and its flags? The lines stay.`"
        ok-text="Remove"
        cancel-text="Keep"
        @confirm="drop"
      >
        <Button>Remove</Button>
      </Popconfirm>
      <span v-if="mode === 'flag'" class="quiet">Press where the flag belongs; arrows and Enter do the same.</span>
      <span v-else-if="mode === 'known' && ends.length < 2" class="quiet">Press both ends of a size you know.</span>
      <form v-else-if="mode === 'known'" @submit.prevent="calibrate">
        It is
        <Input ref="asking" v-model:value="known" aria-label="Known size" placeholder="2 1/2, 80 mm, 10 squares" />
        <Button type="primary" html-type="submit">Set</Button>
      </form>
      <b v-else-if="reading" role="status">{{ reading }}</b>
    </footer>
  </section>
</template>

<style scoped src="./print/pane.css"></style>
