<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { computed, ref } from "vue";
import { useJob } from "../state";
import { useSolid } from "./store";
import { writer } from "./words";
import Field from "../edit/Field.vue";
import Choose from "../parts/Choose.vue";

const store = useJob();
const solid = useSolid();
const inch = computed(() => store.job?.unit === "in");
const own = ref({ name: "", density: "" });
const more = ref(false);
const CORNERS = ["left", "right"].flatMap((a) =>
  ["front", "back"].flatMap((b) => ["bottom", "top"].map((c) => `${a}-${b}-${c}`)),
);
const WAYS = [
  { kind: "file", name: "the file's frame" },
  { kind: "sharp-corner", name: "a corner, sharp" },
  { kind: "axis", name: "the axis of a bore" },
  { kind: "points", name: "three points" },
  { kind: "faces", name: "three faces" },
] as const;
const ASKS: Record<string, string> = {
  "sharp-corner": "Click a corner; a round or a chamfer there is undone.",
  axis: "Click a bore or a shaft.",
  points: "Click three corners: the origin, one along x, one toward y.",
  faces: "Click three flat faces that meet.",
};
const FRAMES = [
  ...WAYS.map((w) => ({ value: String(w.kind), label: w.name })),
  { label: "outer corners", options: CORNERS.map((c) => ({ value: `corner:${c}`, label: c })) },
];
function choose(value: string) {
  if (value.startsWith("corner:")) void solid.setFrame("box-corner", [], value.slice(7));
  else if (value === "file") void solid.setFrame("file", []);
  else {
    const kind = WAYS.find((w) => w.kind === value)?.kind;
    if (kind) solid.frameBy(kind);
  }
}
const present = computed(() => {
  const f = solid.station?.frame;
  return f?.kind === "box-corner" ? `corner:${f.name}` : (f?.kind ?? "file");
});
function material(k: number, value: string) {
  const kept = { ...(solid.station?.solid_materials ?? {}) };
  if (value) kept[String(k)] = value;
  else delete kept[String(k)];
  void solid.patch({ solid_materials: kept });
}
function addOwn() {
  const density = Number(own.value.density.replace(",", "."));
  const name = own.value.name.trim();
  if (!name || !(density > 0 && density < 100))
    return store.say("An own material needs a name and a density between 0 and 100 g/cm³.");
  const mine = Object.fromEntries(
    (solid.station?.materials ?? []).filter((m) => m.own).map((m) => [String(m.name), Number(m.density)]),
  );
  own.value = { name: "", density: "" };
  void solid.patch({ materials: { ...mine, [name]: density } });
}
const SYSTEMS = ["mm g", "mm kg", "m kg", "in lb", "in oz"] as const;
const checkpoint = computed(() => solid.masses?.checkpoint ?? null);
const say = (v: number[] | null | undefined) => (v ? v.map((c) => writer(inch.value)(c)).join(", ") : "–");
const grams = (g: number | null | undefined) =>
  g == null ? "–" : inch.value ? `${(g / 453.59237).toFixed(4)} lb` : `${g.toFixed(2)} g`;
</script>

<template>
  <div>
    <label class="line"
      >Seen from
      <Choose
        :value="solid.framing ? solid.framing.kind : present"
        aria-label="Frame"
        :disabled="!store.mayEdit"
        :options="FRAMES"
        @change="(v) => choose(String(v))"
      />
    </label>
    <p v-if="solid.framing" class="ask" role="status">
      {{ ASKS[solid.framing.kind] }} {{ solid.picks.length }} of {{ solid.framing.need }}
      <Button @click="solid.clear()">Leave it</Button>
    </p>
    <template v-if="solid.masses">
      <p class="quiet">
        Everything here is said from <b>{{ solid.masses.frame.name }}</b><span
          v-if="solid.masses.frame_status !== 'same'"
          class="warn"
        >
          ({{ solid.masses.frame_status }} on this model)</span
        >, origin at <span class="tab">{{ say(solid.masses.frame.origin) }}</span> of the file.
      </p>
      <div class="units">
        <Choose
          :value="solid.masses.system"
          aria-label="Units of the masses"
          :disabled="!store.mayEdit"
          :options="SYSTEMS.map((s) => ({ value: s, label: s.replace(' ', ' and ') }))"
          @change="(v) => solid.patch({ system: SYSTEMS.find((s) => s === v) })"
        />
        <label
          >decimals
          <Field
            :of="`${store.id}.decimals`"
            :value="solid.station?.decimals"
            class="few"
            inputmode="numeric"
            aria-label="Decimals"
            :disabled="!store.mayEdit"
            @put="(t) => solid.patch({ decimals: Math.min(9, Math.max(0, Math.round(Number(t)) || 0)) })"
        /></label>
      </div>
      <section v-for="(b, k) in solid.masses.bodies" :key="k">
        <h4>{{ b.name }}</h4>
        <label v-if="k < solid.masses.densities.length" class="line"
          >Material
          <Choose
            :value="solid.station?.solid_materials[String(k)] ?? ''"
            :aria-label="`Material of ${b.name}`"
            :disabled="!store.mayEdit"
            search
            :options="[
              { value: '', label: `the job's${b.density ? ` (${b.density} g/cm³)` : ''}` },
              ...(solid.station?.materials ?? []).map((m) => ({
                value: String(m.name),
                label: `${m.name} · ${m.density}`,
              })),
            ]"
            @change="(v) => material(k, String(v))"
          />
        </label>
        <dl>
          <template v-for="r in b.rows" :key="r.label">
            <dt>{{ r.label }}</dt>
            <dd class="tab" :data-test="`${r.label}-${k}`">{{ r.text }} {{ r.unit }}</dd>
          </template>
        </dl>
        <details>
          <summary>Moments</summary>
          <table class="tab">
            <caption>
              About the centre, along the frame ({{
                b.inertia_unit
              }})
            </caption>
            <tbody>
              <tr v-for="(row, i) in b.tensor" :key="i">
                <td v-for="(x, j) in row" :key="j">{{ (x * b.inertia_factor).toPrecision(6) }}</td>
              </tr>
            </tbody>
          </table>
          <table class="tab">
            <caption>
              About the frame's origin
            </caption>
            <tbody>
              <tr v-for="(row, i) in b.tensor_origin" :key="i">
                <td v-for="(x, j) in row" :key="j">{{ (x * b.inertia_factor).toPrecision(6) }}</td>
              </tr>
            </tbody>
          </table>
          <p v-for="(p, i) in b.principal" :key="i" class="tab">
            principal {{ i + 1 }}: {{ p.text }} along {{ p.axis.map((c) => +c.toFixed(4)).join(", ") }}
          </p>
        </details>
      </section>
      <section v-if="checkpoint" class="check" :class="{ off: !checkpoint.fits }">
        <h4>{{ checkpoint.fits ? "◆ Agrees with" : "▼ Differs from" }} “{{ checkpoint.step }}”</h4>
        <p v-if="checkpoint.mass_g != null" class="tab">
          source {{ grams(checkpoint.mass_g)
          }}<span v-if="checkpoint.mass_off_g != null">
            · here {{ checkpoint.mass_off_g >= 0 ? "+" : "" }}{{ grams(checkpoint.mass_off_g) }}</span
          >
        </p>
        <p v-if="checkpoint.centre_mm" class="tab">
          centre {{ say(checkpoint.centre_mm) }} · here {{ say(checkpoint.centre_here_mm) }}
        </p>
        <p v-if="checkpoint.centre_mm" class="quiet">counted from {{ checkpoint.frame }}</p>
        <template v-if="checkpoint.reasons.length">
          <p><b>What would explain it</b></p>
          <p v-for="r in checkpoint.reasons" :key="r">{{ r }}</p>
        </template>
        <p v-else-if="!checkpoint.fits">No other density, frame, sign or unit explains it: the shape differs.</p>
      </section>
      <p v-else class="quiet">The source states no mass checkpoint to compare with.</p>
      <Button v-if="store.mayEdit" :aria-expanded="more" @click="more = !more">Own material …</Button>
      <form v-if="more" class="own" @submit.prevent="addOwn">
        <Input v-model:value="own.name" aria-label="Name of the material" placeholder="name" :maxlength="80" />
        <Input v-model:value="own.density" aria-label="Density in g/cm³" placeholder="g/cm³" inputmode="decimal" />
        <Button type="primary" html-type="submit">Add</Button>
      </form>
    </template>
    <p v-else class="quiet">Weighing …</p>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 74px 1fr;
  align-items: center;
  gap: 6px;
}
.units,
.own {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}
.units label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.units :deep(.few) {
  width: 52px;
}
.own :deep(input) {
  min-width: 0;
  flex: 1;
}
dl {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: 2px 6px;
  margin: 6px 0;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
h4 {
  margin: 12px 0 4px;
}
p {
  margin: 3px 0;
}
table {
  font-size: 12px;
  border-collapse: collapse;
  margin: 4px 0;
}
caption {
  caption-side: top;
  text-align: left;
  color: var(--quiet);
}
td {
  padding: 1px 8px 1px 0;
}
.ask {
  background: #f4e3c3;
  border: 1px solid #c79a45;
  padding: 4px 8px;
}
.check {
  border: 1px solid var(--rule);
  border-left: 3px solid var(--moss);
  background: var(--paper);
  padding: 2px 10px 8px;
  margin: 10px 0;
}
.check.off {
  border-left-color: var(--plum);
}
.warn {
  color: var(--vermilion);
}
</style>
