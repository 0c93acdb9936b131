<script setup lang="ts">
import { Alert, Button, Modal, notification } from "ant-design-vue";
import { computed, defineAsyncComponent, h, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import Account from "../parts/Account.vue";
import Ledger from "../parts/Ledger.vue";
import Palette, { type Action } from "../parts/Palette.vue";
import { useSolid, type Panel } from "../solid/store";
import { send, take } from "../api/client";
import { useJob } from "../state";
import Proof from "./Proof.vue";
import Release from "./Release.vue";
import Sheet from "./Sheet.vue";
import FilePick from "../parts/FilePick.vue";

// The solid and the prints bring large libraries; they are fetched when their station is opened.
const Solid = defineAsyncComponent(() => import("./Solid.vue"));
const Source = defineAsyncComponent(() => import("./Source.vue"));
const store = useJob();
const route = useRoute();
const router = useRouter();
const stations = [
  { key: "source", name: "Source" },
  { key: "solid", name: "Solid" },
  { key: "sheet", name: "Sheet" },
  { key: "proof", name: "Proof" },
  { key: "release", name: "Release" },
] as const;
const at = computed(() => stations.find((s) => s.key === route.params.station)?.key ?? "sheet");
const bringing = ref<InstanceType<typeof FilePick>>();
const palette = ref(false);
const help = ref(false);
const solid = useSolid();
const SOLID: { name: string; key: string; panel: Panel }[] = [
  { name: "Features of the solid", key: "F", panel: "features" },
  { name: "Measure on the solid", key: "M", panel: "measure" },
  { name: "Weigh the solid", key: "W", panel: "weigh" },
  { name: "Steps of the part and their masses", key: "S", panel: "steps" },
  { name: "Faults of the solid and making advice", key: "A", panel: "faults" },
  { name: "What changed since the model before", key: "H", panel: "changes" },
];
const sheetStation = ref<InstanceType<typeof Sheet>>();

/** Hollow, half with the number of open points, or full. */
const pips = computed<Record<string, { shape: string; open: number; word: string }>>(() => {
  const lines = store.job?.source.lines ?? [];
  const bad = store.job?.source.readiness.length ?? 0;
  const pip = (has: boolean, open: number) =>
    !has
      ? { shape: "○", open: 0, word: "nothing yet" }
      : open
        ? { shape: "◐", open, word: `${open} open` }
        : { shape: "●", open: 0, word: "done" };
  return {
    source: pip(lines.length > 0, bad),
    solid: pip(!!store.job?.model_id, 0),
    sheet: pip(!!store.sheet, store.open.filter((f) => f.rule.startsWith("complete.")).length),
    proof: pip(!!store.proof, store.open.length),
    release: { shape: "○", open: 0, word: "nothing signed yet" },
  };
});
const model = computed(() => {
  const m = store.job?.models.find((x) => x.id === store.job?.model_id);
  return m ? m.name : "no model yet";
});
function go(station: string) {
  void router.replace(`/jobs/${store.id}/${station}`);
}
/** Prints go to the source, everything else is taken for a model; the server says what it is not. */
async function dropped(event: DragEvent) {
  const files = [...(event.dataTransfer?.files ?? [])];
  if (!files.length || !store.mayEdit || !store.job) return;
  const prints = files.filter((f) => /\.(pdf|png|jpe?g)$/i.test(f.name));
  for (const print of prints) {
    const form = new FormData();
    form.append("file", print);
    await store.guard(() => take(send<unknown>(`/api/jobs/${store.id}/prints`, form)));
  }
  if (prints.length) {
    go("source");
    await store.guard(() => store.loadJob());
  }
  for (const model of files.filter((f) => !prints.includes(f))) await store.upload(model);
}
const actions = computed<Action[]>(() => [
  ...stations.map((s, k) => ({ name: `Go to ${s.name}`, key: String(k + 1), run: () => go(s.key) })),
  ...SOLID.map((a) => ({
    name: a.name,
    key: a.key,
    run: () => {
      go("solid");
      void solid.show(a.panel);
    },
  })),
  {
    name: "Weigh the steps against the source",
    off: !store.mayEdit || !solid.station?.states.length,
    run: () => void solid.weighStates(),
  },
  {
    name: "Compare model and twin",
    off: !store.mayEdit || !solid.station?.recipe,
    run: () => void solid.compareTwin(),
  },
  {
    name: "Bring in a model (STEP)",
    off: !store.mayEdit,
    run: () => bringing.value?.open(),
  },
  {
    name: "Add a dimension between two on the sheet",
    key: "M",
    off: !store.mayEdit || !store.sheet,
    run: () => {
      go("sheet");
      setTimeout(() => sheetStation.value?.startPicking(), 60);
    },
  },
  {
    name: "Delete the selected statement",
    key: "Delete",
    off: !store.mayEdit || !store.chosen.length,
    run: () => sheetStation.value?.remove(),
  },
  { name: "Undo", key: "Ctrl Z", off: !store.sheet?.can_undo, run: () => void store.undo() },
  { name: "Redo", key: "Ctrl Shift Z", off: !store.sheet?.can_redo, run: () => void store.redo() },
  {
    name: "Set up the page",
    key: "P",
    off: !store.mayEdit || !store.sheet,
    run: () => {
      go("sheet");
      setTimeout(() => sheetStation.value?.setUp(), 60);
    },
  },
  { name: "Fit the sheet", key: "0", run: () => sheetStation.value?.fit() },
  {
    name: "Tidy rows and notes",
    off: !store.mayEdit || !store.sheet,
    run: () => void store.edit({ op: "tidy" }),
  },
  { name: "Draft anew", off: !store.mayEdit || !store.sheet, run: () => void store.redraft({}) },
  { name: "Download PDF", off: !store.sheet, run: () => window.open(`/api/jobs/${store.id}/export/pdf`) },
  { name: "Back to the list of jobs", run: () => void router.push("/") },
  { name: "Keys of this station", key: "?", run: () => (help.value = true) },
]);
function keys(event: KeyboardEvent) {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
    palette.value = true;
    event.preventDefault();
    return;
  }
  if ((event.target as Element).closest?.("input,textarea,select") || event.ctrlKey || event.metaKey || event.altKey)
    return;
  const index = Number(event.key) - 1;
  if (stations[index]) go(stations[index].key);
  else if (event.key === "?") help.value = !help.value;
}
/** Where work that ended has led, by its kind. */
const LED: Record<string, { says: string; to: string }> = {
  arrive: { says: "The sheet is drafted and proved.", to: "sheet" },
  ledger: { says: "The steps are weighed.", to: "solid" },
  twin: { says: "Model and twin are compared.", to: "solid" },
  recipe: { says: "The recipe is built.", to: "solid" },
};
watch(
  () => store.finished,
  (task) => {
    const led = task && LED[task.kind];
    if (!led || led.to === at.value) return;
    notification.open({
      key: "ended",
      message: led.says,
      placement: "bottomRight",
      duration: 8,
      btn: () =>
        h(Button, { type: "primary", onClick: () => (notification.close("ended"), go(led.to)) }, () => "Go there"),
    });
  },
);
watch(
  () => Number(route.params.id),
  (id) => id && void store.openJob(id),
  { immediate: true },
);
onMounted(() => window.addEventListener("keydown", keys));
onBeforeUnmount(() => {
  window.removeEventListener("keydown", keys);
  store.close();
});
</script>

<template>
  <div class="bench" @dragover.prevent @drop.prevent="dropped">
    <header class="strip">
      <RouterLink to="/" class="home" title="All jobs">◆ Canonis</RouterLink>
      <template v-if="store.job">
        <b>{{ store.job.number }}</b><span>{{ store.job.title }}</span>
        <span class="quiet"
          >{{ store.job.unit === "in" ? "inch" : "mm" }} ·
          {{ store.job.style === "asme" ? "inch style" : "metric style" }} · {{ model }}</span
        >
      </template>
      <span class="spring" />
      <span v-if="store.running" class="work" role="status">
        <i class="spin" /> {{ store.running.stage }} …
        <Button v-if="store.mayEdit" @click="store.cancel(store.running)">Cancel</Button>
      </span>
      <span v-else-if="store.busy" class="work"><i class="spin" /> working …</span>
      <FilePick
        v-if="store.mayEdit && store.job"
        ref="bringing"
        name="model-file"
        accept=".step,.stp"
        primary
        @files="([file]) => store.upload(file)"
        >{{ store.job.model_id ? "Bring in a revised model" : "Bring in a model" }}</FilePick
      >
      <Button title="Ctrl K" @click="palette = true">Actions</Button>
      <Account />
    </header>
    <Alert
      v-if="store.notice"
      class="notice"
      type="warning"
      banner
      closable
      :show-icon="false"
      role="alert"
      :message="store.notice"
      @close="store.notice = ''"
    />
    <div class="middle">
      <nav class="rail" aria-label="Stations">
        <Button
          type="text"
          class="bare"
          v-for="(s, k) in stations"
          :key="s.key"
          :class="{ on: at === s.key }"
          :title="`${s.name} (${k + 1}): ${pips[s.key].word}`"
          @click="go(s.key)"
        >
          <span class="pip"
            >{{ pips[s.key].shape }}<small v-if="pips[s.key].open">{{ pips[s.key].open }}</small></span
          >{{ s.name }}
        </Button>
      </nav>
      <main v-if="store.job" class="surface">
        <Source v-if="at === 'source'" :key="store.id" />
        <Solid v-else-if="at === 'solid'" />
        <Sheet v-else-if="at === 'sheet'" ref="sheetStation" />
        <Proof v-else-if="at === 'proof'" />
        <Release v-else />
      </main>
      <main v-else class="surface wait"><span class="quiet">Opening the job …</span></main>
      <Ledger :station="at" />
    </div>
    <Palette v-if="palette" :actions="actions" @close="palette = false" />
    <Modal :open="help" title="Keys" :footer="null" :width="520" @cancel="help = false">
      <p>
        <kbd>1</kbd>–<kbd>5</kbd> stations · <kbd>Ctrl K</kbd> actions · <kbd>?</kbd> this list · <kbd>Esc</kbd> back
        out
      </p>
      <p><kbd>0</kbd> fit · <kbd>+</kbd> <kbd>-</kbd> or wheel zoom · <kbd>Space</kbd> or middle button and drag pan</p>
      <p>
        <kbd>M</kbd> measure between two · <kbd>P</kbd> page · <kbd>Delete</kbd> · arrows nudge · <kbd>Ctrl Z</kbd>
        <kbd>Ctrl Shift Z</kbd>
      </p>
      <p v-if="at === 'solid'">
        <kbd>F</kbd> features · <kbd>M</kbd> measure · <kbd>W</kbd> weigh · <kbd>S</kbd> steps · <kbd>A</kbd> faults ·
        <kbd>H</kbd> changes · <kbd>C</kbd> copy · <kbd>X</kbd> cut open · on the part: arrows turn it
      </p>
      <p>In the ledger: <kbd>↑</kbd> <kbd>↓</kbd>. In the source: <kbd>Enter</kbd> adds a line.</p>
    </Modal>
  </div>
</template>

<style scoped>
.bench {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.strip {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 6px 12px;
  background: var(--panel);
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
.home {
  color: var(--petrol);
  font-weight: 700;
}
.spring {
  flex: 1;
}
.work {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--petrol);
}
.spin {
  width: 12px;
  height: 12px;
  border: 2px solid var(--rule);
  border-top-color: var(--petrol);
  border-radius: 50%;
  animation: turn 0.9s linear infinite;
}
@keyframes turn {
  to {
    transform: rotate(360deg);
  }
}
.notice {
  margin: 0;
  padding: 6px 14px;
  background: #fbf3df;
  border-bottom: 1px solid #d9c48c;
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
}
.middle {
  flex: 1;
  display: flex;
  min-height: 0;
}
.rail {
  width: 74px;
  flex: none;
  display: flex;
  flex-direction: column;
  gap: 2px;
  padding: 8px 6px;
  background: var(--ground);
  border-right: 1px solid var(--rule);
}
.rail button {
  font: inherit;
  font-size: 13px;
  border: 1px solid transparent;
  border-radius: 3px;
  background: none;
  padding: 7px 2px;
  cursor: pointer;
  display: grid;
  gap: 2px;
  justify-items: center;
  color: var(--ink);
}
.rail button:hover {
  background: var(--panel);
}
.rail button.on {
  background: var(--paper);
  border-color: var(--rule);
  border-left: 3px solid var(--petrol);
  font-weight: 700;
}
.pip {
  font-size: 17px;
  line-height: 1;
  color: var(--petrol);
}
.pip small {
  font-size: 12px;
  margin-left: 2px;
}
.surface {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
.wait {
  display: grid;
  place-content: center;
}
.help {
  position: fixed;
  right: 24px;
  bottom: 24px;
  width: 430px;
  background: var(--paper);
  border: 1px solid #a9a294;
  padding: 14px 18px;
  box-shadow: 0 6px 24px #22262b33;
  z-index: 40;
}
</style>
