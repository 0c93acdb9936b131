<script setup lang="ts">
import { computed } from "vue";
import Space from "../space/Space.vue";
import { useJob } from "../state";

const store = useJob();
type Feature = Record<string, unknown> & { id: string; kind: string; count?: number; faces?: number[]; solid?: number };
const features = computed(() => (store.solid?.report.features ?? []) as Feature[]);
const solids = computed(() => store.solid?.report.solids ?? []);
const inch = computed(() => store.job?.unit === "in");
const len = (mm: unknown) =>
  typeof mm === "number" ? String(+(inch.value ? mm / 25.4 : mm).toFixed(inch.value ? 4 : 3)) : "–";
const key = (f: Feature) => `${f.solid ?? 0}.${f.id}`;
function text(f: Feature): string {
  const n = (f.count as number) > 1 ? `${f.count}× ` : "";
  const bore = f.counterbore as Record<string, number> | null | undefined;
  const sink = f.countersink as Record<string, number> | null | undefined;
  if (f.kind === "hole") {
    let t = `${n}⌀${len(f.diameter_mm)} ${f.through ? "THRU" : `↧${len(f.depth_mm)}`}`;
    if (bore) t += ` ⌴⌀${len(bore.diameter_mm)} ↧${len(bore.depth_mm)}`;
    if (sink) t += ` ⌵⌀${len(sink.diameter_mm)} × ${+sink.angle_deg.toFixed(2)}°`;
    const p = f.pattern as { kind: string; diameter_mm?: number } | null;
    return p ? `${t} · ${p.kind}${p.diameter_mm ? ` ⌀${len(p.diameter_mm)}` : ""}` : t;
  }
  if (f.kind === "fillet") return `${n}R${len(f.radius_mm)} ${f.convex ? "round" : "fillet"}`;
  if (f.kind === "chamfer") return `${n}${(f.legs_mm as number[]).map(len).join(" × ")} chamfer`;
  if (f.kind === "slot") return `slot ${len(f.width_mm)} wide, ${len(f.centres_mm)} centres`;
  if (f.kind === "boss" || f.kind === "shaft") return `⌀${len(f.diameter_mm)} ${f.kind}, ${len(f.height_mm)} long`;
  if (f.kind === "groove") return `groove ${len(f.width_mm)} wide in the bore`;
  if (f.kind === "flat") return `${f.count} flat faces`;
  return `${f.count} other faces`;
}
const lit = computed(() => {
  const f = features.value.find((x) => key(x) === store.feature);
  const out: Record<number, number[]> = {};
  if (f) out[f.solid ?? 0] = f.faces ?? [];
  return out;
});
function pickFace(solid: number, face: number) {
  const f = features.value.find((x) => (x.solid ?? 0) === solid && x.faces?.includes(face));
  store.feature = f ? key(f) : null;
}
const size = (s: Record<string, unknown>) => {
  const b = s.bbox_mm as number[][];
  return [0, 1, 2].map((k) => len(b[1][k] - b[0][k])).join(" × ");
};
</script>

<template>
  <div v-if="store.solid" class="solid">
    <Space :key="store.solid.name + store.job?.model_id" :meshes="store.solid.meshes" :lit="lit" @face="pickFace" />
    <div class="side">
      <section v-for="(s, k) in solids" :key="k">
        <h3>{{ s.name }}</h3>
        <dl>
          <dt>Size</dt>
          <dd class="tab">{{ size(s) }} {{ inch ? "in" : "mm" }}</dd>
          <dt>Volume</dt>
          <dd class="tab">
            {{
              inch
                ? (+(s.volume_mm3 as number) / 16387.064).toFixed(4) + " in³"
                : (s.volume_mm3 as number).toFixed(1) + " mm³"
            }}
          </dd>
          <dt>Mass</dt>
          <dd class="tab">{{ s.mass_g == null ? "no material given" : (s.mass_g as number).toFixed(2) + " g" }}</dd>
          <dt>Centre</dt>
          <dd class="tab">{{ (s.centroid_mm as number[]).map(len).join(", ") }}</dd>
          <dt>Faces</dt>
          <dd class="tab">{{ s.faces }} · {{ s.valid ? "valid solid" : "the kernel calls it invalid" }}</dd>
        </dl>
      </section>
      <h3>Features found</h3>
      <button
        v-for="f in features"
        :key="key(f)"
        class="feature"
        :class="{ on: store.feature === key(f) }"
        @click="store.feature = store.feature === key(f) ? null : key(f)"
      >
        <i>{{ f.id }}</i> {{ text(f) }}
      </button>
      <p class="quiet">Drag turns, wheel zooms, right button shifts. Click a face to see what it belongs to.</p>
    </div>
  </div>
  <div v-else class="empty">
    <h2>No model yet</h2>
    <p>Bring in a STEP file (AP203, AP214 or AP242) with the button above.</p>
  </div>
</template>

<style scoped>
.solid {
  height: 100%;
  display: grid;
  grid-template-columns: 1fr 290px;
  min-height: 0;
}
.side {
  overflow: auto;
  padding: 12px;
  background: var(--panel);
  border-left: 1px solid var(--rule);
}
dl {
  display: grid;
  grid-template-columns: 62px 1fr;
  gap: 2px 8px;
  margin: 0 0 12px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
.feature {
  display: block;
  width: 100%;
  text-align: left;
  font: inherit;
  background: none;
  border: 0;
  border-top: 1px solid #e4dfd4;
  padding: 4px 6px;
  cursor: pointer;
  font-family: "Canonis Sheet", sans-serif;
}
.feature i {
  color: var(--quiet);
  font-style: normal;
  font-size: 12px;
  display: inline-block;
  min-width: 24px;
}
.feature:hover {
  background: var(--paper);
}
.feature.on {
  background: var(--paper);
  box-shadow:
    inset 0 0 0 1px var(--halo),
    inset 0 0 0 3px #2f8f8333;
}
.empty {
  height: 100%;
  display: grid;
  place-content: center;
  text-align: center;
}
</style>
