<script setup lang="ts">
import { Button, Skeleton } from "ant-design-vue";
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { SOLID } from "../actions";
import Changed from "../solid/Changed.vue";
import Faults from "../solid/Faults.vue";
import Features from "../solid/Features.vue";
import Measure from "../solid/Measure.vue";
import Steps from "../solid/Steps.vue";
import Weigh from "../solid/Weigh.vue";
import { opened, useSolid } from "../solid/store";
import { featureKey, sayFeature, writer } from "../solid/words";
import type { Hit } from "../space/picking";
import Space from "../space/Space.vue";
import { useJob } from "../state";
import Blank from "../parts/Blank.vue";
import Splitter from "../parts/Splitter.vue";
import Leaves from "../parts/Leaves.vue";

const emit = defineEmits<{ bring: [] }>();
const store = useJob();
const solid = useSolid();
const side = ref(338);
const space = ref<InstanceType<typeof Space>>();
const features = computed(() => store.solid?.report.features ?? []);
const inch = computed(() => store.job?.unit === "in");
const finding = computed(() => (solid.finding == null ? null : (solid.findings?.[solid.finding] ?? null)));
const lit = computed(() => {
  const out: Record<number, number[]> = {};
  if (solid.panel === "faults" && finding.value) return { [finding.value.solid]: finding.value.faces };
  if (solid.panel === "features" && solid.colour) return { [solid.colour.solid]: solid.colour.faces };
  const f = features.value.find((x) => featureKey(x) === store.feature);
  if (f) out[f.solid ?? 0] = f.faces ?? [];
  else if (solid.panel === "changes")
    store.solid?.report.changes?.solids.forEach((s, k) => {
      const altered = s.faces.filter((x) => x.now != null && x.status !== "same").flatMap((x) => x.now ?? []);
      out[k] = [...s.new_faces, ...altered];
    });
  return out;
});
const picked = computed(() => {
  const out: Record<number, number[]> = {};
  for (const p of solid.picks)
    if (["face", "axis", "sharp"].includes(p.kind)) (out[p.solid ?? 0] ??= []).push(p.index ?? 0);
  return out;
});
const points = computed(() => {
  if (solid.panel === "faults" && finding.value?.point) return [finding.value.point];
  if (solid.measured && solid.panel === "measure") return solid.measured.points;
  return [];
});
const want = computed(() => {
  if (solid.panel === "weigh" && !solid.framing) return "face";
  if (solid.want === "apex") return "corner";
  return solid.want === "edge" || solid.want === "corner" ? solid.want : "face";
});
const picking = computed(() => solid.panel === "measure" || !!solid.framing);
function hit(at: Hit) {
  if (picking.value) return void solid.hit(at);
  const f = features.value.find((x) => (x.solid ?? 0) === at.solid && x.faces?.includes(at.index));
  store.feature = f ? featureKey(f) : null;
}
function hover(at: Hit | null) {
  if (solid.probing && solid.panel === "measure") void solid.probe(at);
}
const size = computed(() => {
  const solids = store.solid?.report.solids ?? [];
  const box = solids.map((s) => s.bbox_mm);
  if (!box.length) return "";
  const span = [0, 1, 2].map((k) => Math.max(...box.map((b) => b[1][k])) - Math.min(...box.map((b) => b[0][k])));
  return `${span.map(writer(inch.value)).join(" × ")} ${inch.value ? "in" : "mm"}`;
});
const faces = computed(() => (store.solid?.report.solids ?? []).reduce((n, s) => n + s.faces, 0));
const valid = computed(() => (store.solid?.report.solids ?? []).every((s) => s.valid));
function keys(event: KeyboardEvent) {
  if ((event.target as Element).closest?.("input,textarea,select") || event.ctrlKey || event.metaKey || event.altKey)
    return;
  const panel = SOLID.find((p) => p.press === event.key.toUpperCase());
  if (panel) void solid.show(panel.id);
  else if (event.key.toLowerCase() === "c" && solid.main) {
    void navigator.clipboard?.writeText(solid.main.text).catch(() => undefined);
    store.notice = `Copied ${solid.main.text}`;
  } else if (event.key === "Escape") {
    if (solid.framing || solid.picks.length) solid.clear();
    else if (store.feature) store.feature = null;
    else solid.clip = null;
  } else if (event.key === "0") space.value?.fit();
  else if (event.key.toLowerCase() === "x")
    solid.clip = !solid.clip ? opened(0) : solid.clip.axis === 2 ? null : opened((solid.clip.axis + 1) as 1 | 2);
  else return;
  event.preventDefault();
}
/** A face, edge or corner as it is read out: its place, and the feature it belongs to. */
function spoken(at: Hit, place: number, of: number): string {
  const f =
    at.kind === "face"
      ? features.value.find((x) => (x.solid ?? 0) === at.solid && x.faces?.includes(at.index))
      : undefined;
  const where = at.at.map(writer(inch.value)).join(", ");
  return `${at.kind} ${place} of ${of}${f ? `, ${f.id} ${sayFeature(f, inch.value)}` : ""}, at ${where}`;
}
const VIEWS = [
  { name: "corner", from: [1, -1.4, 1] },
  { name: "front", from: [0, -1, 0] },
  { name: "above", from: [0, 0, 1] },
  { name: "side", from: [-1, 0, 0] },
];
onMounted(() => window.addEventListener("keydown", keys));
onBeforeUnmount(() => window.removeEventListener("keydown", keys));
watch(
  () => [store.id, store.job?.model_id, store.solid?.name] as const,
  ([id, model]) => id && void solid.open(id, model ?? null),
  { immediate: true },
);
// Background work of this station ends elsewhere; its result is fetched then.
watch(
  () => store.running?.id,
  (now, before) => {
    if (before && !now) void solid.load();
  },
);
watch(
  () => store.sourceVersion,
  () => void solid.load(),
);
defineExpose({ space });
</script>

<template>
  <div
    class="solid"
    :style="{ gridTemplateColumns: `minmax(0, 1fr) auto ${solid.panel === 'steps' ? Math.max(side, 480) : side}px` }"
  >
    <div v-if="store.solid" class="view">
      <Space
        ref="space"
        :key="store.solid.name + store.job?.model_id"
        :meshes="store.solid.meshes"
        :lit="lit"
        :picked="picked"
        :want="want"
        :points="points"
        :clip="solid.clip"
        :lumps="solid.panel === 'steps' && solid.showLumps && solid.twin ? solid.twin.lumps : []"
        :spoken="spoken"
        @pick="hit"
        @hover="hover"
      />
      <div class="plate">
        <span class="tab">{{ size }}</span>
        <span class="quiet">{{ faces }} faces · {{ valid ? "valid solid" : "the kernel calls it invalid" }}</span>
      </div>
      <div class="looks" role="group" aria-label="Look from">
        <Button v-for="v in VIEWS" :key="v.name" @click="space?.look(v.from)">{{ v.name }}</Button>
        <Button title="0" @click="space?.fit()">fit</Button>
      </div>
    </div>
    <Skeleton v-else-if="store.loading || store.running" active class="empty" :paragraph="{ rows: 6 }" />
    <Blank v-else class="empty">
      <h2>No model yet</h2>
      <p>Drop a STEP file (AP203, AP214 or AP242) anywhere on this page.</p>
      <Button v-if="store.mayEdit" type="primary" @click="emit('bring')">Bring in a model</Button>
    </Blank>
    <Splitter
      v-model="side"
      keep="solid"
      label="Width of the panel"
      :first="338"
      :least="300"
      :most="760"
      pane="right"
    />
    <aside class="side" aria-label="About the solid">
      <Leaves
        class="tabs"
        :at="solid.panel"
        :leaves="SOLID.map((p) => ({ key: p.id, name: p.leaf, tip: `${p.leaf} (${p.press})` }))"
        @go="(k) => solid.show(k as typeof solid.panel)"
      />
      <div class="panel" role="tabpanel">
        <Features v-if="solid.panel === 'features'" />
        <Measure v-else-if="solid.panel === 'measure'" />
        <Weigh v-else-if="solid.panel === 'weigh'" />
        <Steps v-else-if="solid.panel === 'steps'" />
        <Faults v-else-if="solid.panel === 'faults'" />
        <Changed v-else />
      </div>
    </aside>
  </div>
</template>

<style scoped>
.solid {
  height: 100%;
  display: grid;
  min-height: 0;
}
.view {
  position: relative;
  min-height: 0;
  min-width: 0;
}
.plate {
  position: absolute;
  left: 12px;
  top: 10px;
  display: grid;
  pointer-events: none;
}
.looks {
  position: absolute;
  left: 12px;
  bottom: 12px;
  display: flex;
  gap: 4px;
}
.looks button {
  font-size: 13px;
}
.side {
  display: flex;
  flex-direction: column;
  min-height: 0;
  background: var(--panel);
  border-left: 1px solid var(--rule);
}
.tabs {
  display: flex;
  flex: none;
  border-bottom: 1px solid var(--rule);
  padding: 4px 6px 0;
}
.empty {
  align-self: center;
  padding: 30px;
}
.panel {
  flex: 1;
  overflow: auto;
  padding: 8px 12px 20px;
}
</style>
