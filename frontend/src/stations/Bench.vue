<script setup lang="ts">
import { Alert, Button, notification, Skeleton } from "ant-design-vue";
import { useEventListener, useOnline } from "@vueuse/core";
import { computed, defineAsyncComponent, h, onBeforeUnmount, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { SHEET, SOLID, STATIONS } from "../actions";
import Account from "../parts/Account.vue";
import FilePick from "../parts/FilePick.vue";
import Ledger from "../parts/Ledger.vue";
import Palette, { type Action } from "../parts/Palette.vue";
import PrintPreview from "./sheet/PrintPreview.vue";
import Press from "../parts/Press.vue";
import { useSolid } from "../solid/store";
import { useJob } from "../state";
import { useArrivals } from "./bench/arrivals";
import Keys from "./bench/Keys.vue";
import { keepTogether } from "./bench/together";
import Sheet from "./Sheet.vue";

// Each station is fetched when it is opened: the solid and the prints bring large libraries.
const Solid = defineAsyncComponent(() => import("./Solid.vue"));
const Source = defineAsyncComponent(() => import("./Source.vue"));
const Proof = defineAsyncComponent(() => import("./Proof.vue"));
const Release = defineAsyncComponent(() => import("./Release.vue"));
const store = useJob();
const route = useRoute();
const router = useRouter();
const at = computed(() => STATIONS.find((s) => s.id === route.params.station)?.id ?? "sheet");
const bringing = ref<InstanceType<typeof FilePick>>();
const palette = ref(false);
const help = ref(false);
const printing = ref(false);
const solid = useSolid();
const online = useOnline();

const causes = computed(() => (store.proof?.findings ?? []).filter((f) => !f.under && f.severity !== "advice"));
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
    sheet: pip(!!store.sheet, causes.value.filter((f) => f.rule.startsWith("complete.")).length),
    proof: pip(!!store.proof, store.proof?.open ?? 0),
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
const { over } = useArrivals(go);
keepTogether();
/** Goes to the sheet and does there what an entry of the table says. */
function onSheet(id: string) {
  store.wanted = id;
  go("sheet");
}
/** Whether an action of the sheet would do nothing now. */
function idle(id: string) {
  if (!store.sheet) return true;
  if (id === "undo") return !store.sheet.can_undo;
  if (id === "redo") return !store.sheet.can_redo;
  return ["delete", "words", "zoom"].includes(id) && !store.chosen.length;
}
const actions = computed<Action[]>(() => [
  ...STATIONS.map((s, k) => ({ name: `Go to ${s.name}`, key: String(k + 1), run: () => go(s.id) })),
  ...SOLID.map((a) => ({
    name: a.name,
    key: a.press,
    run: () => {
      go("solid");
      void solid.show(a.id);
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
  ...SHEET.flatMap((e) =>
    e.name
      ? [{ name: e.name, key: e.press, off: (e.edits && !store.mayEdit) || idle(e.id), run: () => onSheet(e.id) }]
      : [],
  ),
  { name: "Draft anew", off: !store.mayEdit || !store.sheet, run: () => void store.redraft({}) },
  {
    name: "Print preview",
    off: !store.sheet,
    run: () => (printing.value = true),
  },
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
  if (STATIONS[index]) go(STATIONS[index].id);
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
  (id) => id && store.openJob(id),
  { immediate: true },
);
useEventListener(window, "keydown", keys);
// Back on the line: what happened meanwhile is asked for.
watch(online, (on) => on && void store.stale());
onBeforeUnmount(() => store.close());
</script>

<template>
  <div class="bench">
    <header class="strip">
      <RouterLink to="/" class="home" title="All jobs">◆ Canonis</RouterLink>
      <template v-if="store.job">
        <h1>
          <b>{{ store.job.number }}</b> <span class="title" :title="store.job.title">{{ store.job.title }}</span>
        </h1>
        <span class="quiet facts"
          >{{ store.job.unit === "in" ? "inch" : "mm" }} ·
          {{ store.job.style === "asme" ? "inch style" : "metric style" }} · {{ model }}</span
        >
      </template>
      <span class="spring" />
      <span v-if="!online" class="work" role="status"
        >offline: your edits are kept and go out when the line is back</span
      >
      <span v-else-if="store.away" class="work" role="status"
        ><i class="spin" /> the server does not answer;
        {{ store.pending === 1 ? "one edit waits" : `${store.pending} edits wait` }} for it</span
      >
      <span v-else-if="store.running" class="work" role="status">
        <i class="spin" /> {{ store.running.stage }} …
        <Button v-if="store.mayEdit" @click="store.cancel(store.running)">Cancel</Button>
      </span>
      <span v-else-if="store.busy" class="work"><i class="spin" /> working …</span>
      <FilePick
        v-if="store.mayEdit && store.job"
        ref="bringing"
        name="model-file"
        accept=".step,.stp"
        :primary="!store.job.model_id"
        @files="([file]) => store.upload(file)"
        >{{ store.job.model_id ? "Bring in a revised model" : "Bring in a model" }}</FilePick
      >
      <Press press="Ctrl K" tip="Every action by name" @press="palette = true">Actions</Press>
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
          v-for="(s, k) in STATIONS"
          :key="s.id"
          :class="{ on: at === s.id }"
          :aria-current="at === s.id ? 'page' : undefined"
          :title="`${s.name} (${k + 1}): ${pips[s.id].word}`"
          @click="go(s.id)"
        >
          <span class="pip"
            ><span aria-hidden="true">{{ pips[s.id].shape }}</span
            ><small v-if="pips[s.id].open">{{ pips[s.id].open }}</small></span
          >{{ s.name }}
        </Button>
      </nav>
      <main v-if="store.job" class="surface">
        <Source v-if="at === 'source'" :key="store.id" />
        <Solid v-else-if="at === 'solid'" @bring="bringing?.open()" />
        <Sheet v-else-if="at === 'sheet'" @bring="bringing?.open()" />
        <Proof v-else-if="at === 'proof'" @bring="bringing?.open()" />
        <Release v-else />
      </main>
      <main v-else class="surface wait">
        <Skeleton active :paragraph="{ rows: 10 }" />
        <span class="quiet">Opening the job …</span>
      </main>
      <Ledger :station="at" />
    </div>
    <div v-if="over" class="over" aria-hidden="true">
      <p>
        <b>Drop it here</b><br />
        STEP becomes the model, PDF and pictures become prints, CSV and text become the source.
      </p>
    </div>
    <Palette v-if="palette" :actions="actions" @close="palette = false" />
    <PrintPreview v-model:open="printing" />
    <Keys v-model:open="help" :station="at" />
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
  text-decoration: none;
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
/* Over the page, clear of the dock: nothing moves under the pointer when something is said. */
.notice {
  position: absolute;
  z-index: 20;
  left: 90px;
  bottom: 84px;
  max-width: min(720px, 60vw);
  padding: 6px 14px;
  background: #fbf3df;
  border: 1px solid #d9c48c;
  box-shadow: 0 2px 8px #22262b26;
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
.strip h1 {
  font: inherit;
  margin: 0;
  display: flex;
  gap: 8px;
  min-width: 0;
}
.title,
.facts {
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 0;
}
.title {
  max-width: 340px;
}
.over {
  position: fixed;
  inset: 8px;
  border: 2px dashed var(--petrol);
  background: #f7f5f0e6;
  display: grid;
  place-content: center;
  text-align: center;
  font-size: 17px;
  pointer-events: none;
  z-index: 20;
}
</style>
