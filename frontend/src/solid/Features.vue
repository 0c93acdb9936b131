<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { computed, ref } from "vue";
import type { Schemas } from "../api/client";
import { useJob } from "../state";
import { useSolid } from "./store";
import { featureKey, inFrame, sayFeature, writer, type Feature } from "./words";

const store = useJob();
const solid = useSolid();
const naming = ref<string | null>(null);
const typed = ref("");
const inch = computed(() => store.job?.unit === "in");
const features = computed(() => store.solid?.report.features ?? []);
const solids = computed(() => store.solid?.report.solids ?? []);
const names = computed(() => {
  const out: Record<string, { name: string; status: string }> = {};
  for (const n of store.solid?.names ?? []) if (n.id) out[`${n.solid}.${n.id}`] = n;
  return out;
});
const notes = computed(() =>
  Object.fromEntries((store.solid?.covered ?? []).map((c) => [`${c.solid}.${c.id}`, c.note])),
);
type Colour = Schemas["Colour"];
/** Colours of single faces: on a casting the largest is its skin, the others are machined. */
const colours = computed(() => solids.value.flatMap((s, k) => (s.colours ?? []).map((c) => ({ ...c, solid: k }))));
function lightColour(c: Colour & { solid: number }) {
  store.feature = null;
  solid.colour = solid.colour?.faces === c.faces ? null : { solid: c.solid, faces: c.faces };
}
const lost = computed(() => (store.solid?.names ?? []).filter((n) => !n.id));
const place = (f: Feature) => {
  const at = f.positions_mm?.[0];
  if (!at) return "";
  const len = writer(inch.value);
  return inFrame(at, solid.masses?.frame).map(len).join(", ");
};
const chosen = computed(() => features.value.find((f) => featureKey(f) === store.feature) ?? null);
/** Mirror planes, and near ones that few features break: a slip may hide there. */
const mirrors = computed(() =>
  solids.value.flatMap((s) => s.symmetry ?? []).filter((m) => m.complete || m.broken_by.length <= 3),
);
const way = (n: number[]) => {
  const k = n.findIndex((c) => Math.abs(Math.abs(c) - 1) < 1e-6);
  return k >= 0 ? "xyz"[k] : n.map((c) => +c.toFixed(3)).join(", ");
};
const turned = computed(() => solids.value.some((s) => s.turned));
function startNaming(f: Feature) {
  naming.value = featureKey(f);
  typed.value = names.value[featureKey(f)]?.name ?? "";
}
async function keepName(f: Feature) {
  naming.value = null;
  await solid.name(f.id, f.solid ?? 0, typed.value);
}
function toggle(f: Feature) {
  solid.colour = null;
  store.feature = store.feature === featureKey(f) ? null : featureKey(f);
}
const LEVELS = computed(() => {
  const len = writer(inch.value);
  const rows = solids.value[0]?.levels ?? [];
  return rows
    .filter((r) => r.levels_mm.length > 1)
    .sort((a, b) => way(a.direction).localeCompare(way(b.direction)))
    .slice(0, 6)
    .map((r) => ({
      way: way(r.direction),
      list: r.levels_mm.slice(0, 14).map(len).join(" · "),
      more: r.levels_mm.length - 14,
    }));
});
</script>

<template>
  <div>
    <p v-if="lost.length" class="warn">
      Names that this model has no feature for: {{ lost.map((n) => n.name).join(", ") }}.
    </p>
    <div v-for="f in features" :key="featureKey(f)" class="row" :class="{ on: store.feature === featureKey(f) }">
      <Button type="text" class="bare feature" :aria-pressed="store.feature === featureKey(f)" @click="toggle(f)">
        <i>{{ f.id }}</i>
        <span
          ><b v-if="names[featureKey(f)]">{{ names[featureKey(f)].name }} · </b>{{ sayFeature(f, inch)
          }}<em v-if="f.sure === 'likely'" title="A likely reading; look at it"> likely</em
          ><em v-if="names[featureKey(f)] && names[featureKey(f)].status !== 'same'">
            {{ names[featureKey(f)].status }}</em
          ><em
            v-if="notes[featureKey(f)]"
            class="quiet"
            :title="`The default note “${notes[featureKey(f)]}” states it`"
          >
            by the default note</em
          ></span
        >
      </Button>
      <div v-if="store.feature === featureKey(f)" class="more">
        <span v-if="place(f)" class="tab quiet">at {{ place(f) }}</span>
        <span v-if="f.tapped_guess" class="quiet">tap drill of {{ f.tapped_guess.slice(0, 2).join(" or ") }}?</span>
        <span v-if="f.centre_drill" class="quiet">a centre drill</span>
        <span v-if="f.differing" class="quiet">
          the odd place on its circle is {{ f.differing.map((d) => d.feature).join(", ") }}
        </span>
        <span class="doing">
          <Button
            v-if="!['flat', 'free-form', 'fillet', 'chamfer', 'wall', 'draft'].includes(f.kind)"
            @click="solid.pick({ kind: 'feature', solid: f.solid ?? 0, index: 0, end: 0, id: f.id, member: 0 })"
          >
            Measure from it
          </Button>
          <Button v-if="store.mayEdit && naming !== featureKey(f)" @click="startNaming(f)"> Name it </Button>
        </span>
        <form v-if="naming === featureKey(f)" @submit.prevent="keepName(f)">
          <Input
            v-model:value="typed"
            aria-label="Name of the feature"
            :maxlength="80"
            placeholder="the source's own name"
          />
          <Button type="primary" html-type="submit">Keep</Button>
        </form>
      </div>
    </div>
    <p v-if="!features.length" class="quiet">Nothing was recognised on this model.</p>
    <template v-if="LEVELS.length">
      <h4>Levels</h4>
      <p v-for="l in LEVELS" :key="l.way" class="tab levels">
        <i>{{ l.way }}</i> {{ l.list }}<span v-if="l.more > 0" class="quiet"> and {{ l.more }} more</span>
      </p>
    </template>
    <template v-if="mirrors.length">
      <h4>Mirror planes</h4>
      <p v-for="(m, k) in mirrors" :key="k">
        {{ m.complete ? "◆" : "▲" }} across {{ way(m.normal) }} at
        <span class="tab">{{ writer(inch)(m.offset_mm) }}</span><span v-if="!m.complete" class="quiet">
          but for {{ m.broken_by.slice(0, 6).join(", ") }}</span
        >
      </p>
    </template>
    <template v-if="colours.length">
      <h4>Colours of the faces</h4>
      <Button type="text" v-for="(c, k) in colours" :key="k" class="bare colour" @click="lightColour(c)">
        <span :style="{ background: c.rgb ? `rgb(${c.rgb.join(',')})` : 'none' }"></span>
        {{ c.faces.length }} faces {{ c.rgb ? "" : "without a colour" }}
        <small class="quiet">{{ k ? "machined, if the part is cast" : "the skin, if the part is cast" }}</small>
      </Button>
    </template>
    <p v-if="turned" class="quiet">A turned part: most of its surface turns about one axis.</p>
    <p v-if="chosen" class="quiet hint">Click its faces on the part to see what else belongs to it.</p>
  </div>
</template>

<style scoped>
.row {
  border-top: 1px solid #e4dfd4;
}
.row.on {
  background: var(--paper);
  box-shadow:
    inset 0 0 0 1px var(--halo),
    inset 0 0 0 3px #2f8f8333;
}
.feature {
  display: grid;
  grid-template-columns: 30px 1fr;
  gap: 4px;
  width: 100%;
  text-align: left;
  font: inherit;
  background: none;
  border: 0;
  padding: 4px 6px;
  cursor: pointer;
  font-family: "Canonis Sheet", sans-serif;
}
.row:not(.on) .feature:hover {
  background: var(--paper);
}
i {
  color: var(--quiet);
  font-style: normal;
  font-size: 12px;
  padding-top: 2px;
}
em {
  color: var(--plum);
  font-size: 12px;
}
.more {
  display: grid;
  gap: 4px;
  padding: 0 6px 8px 40px;
}
.doing,
form {
  display: flex;
  gap: 6px;
}
form input {
  min-width: 0;
  flex: 1;
}
.colour {
  display: flex;
  gap: 8px;
  align-items: center;
  font: inherit;
  background: none;
  border: 0;
  padding: 2px 0;
  cursor: pointer;
}
.colour span {
  width: 14px;
  height: 14px;
  border: 1px solid #a9a294;
}
em.quiet {
  color: var(--quiet);
}
h4 {
  margin: 14px 0 2px;
}
p {
  margin: 3px 0;
}
.levels {
  font-size: 13px;
}
.warn {
  color: var(--vermilion);
}
.hint {
  margin-top: 10px;
}
</style>
