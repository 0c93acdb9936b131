<script setup lang="ts">
import { computed } from "vue";
import Field from "../edit/Field.vue";
import type { Schemas } from "../api/client";
import { useJob } from "../state";
import { useSource } from "./store";
import Choose from "../parts/Choose.vue";

const source = useSource();
const job = useJob();
const NAMES = [
  "title",
  "unit",
  "style",
  "material",
  "density",
  "general",
  "notes",
  "square",
  "frame",
  "solid",
] as const;
type Name = (typeof NAMES)[number];
const shared = computed(() => job.job?.shared);
const fields = computed<{ name: Name; label: string; hint?: string; wide?: boolean }[]>(() => [
  { name: "title", label: "Title" },
  { name: "material", label: "Material", hint: "e.g. brass" },
  { name: "density", label: "Density, g/cm³", hint: "by the material" },
  {
    name: "general",
    label: "General tolerances",
    hint: `the set's: ${source.read?.head.unit === "in" ? shared.value?.general_inch : shared.value?.general_mm}`,
  },
  { name: "square", label: "One square of the print", hint: "e.g. 5" },
  { name: "frame", label: "Frame of the mass figures", hint: "0,0,0 or sharp left-front-bottom" },
  {
    name: "notes",
    label: "Default notes of this part, parted by semicolons",
    hint: shared.value?.notes ? `beside the set's: ${shared.value.notes}` : "rounds R2; edges 0.3; blacken",
    wide: true,
  },
]);
/** The different solids of the model: which of them the source is of has to be said where there are several. */
const solids = computed(() => {
  const all = job.solid?.report.solids ?? [];
  const alike = (a: (typeof all)[number], b: (typeof all)[number]) =>
    a.faces === b.faces && Math.abs(a.volume_mm3 / b.volume_mm3 - 1) < 1e-5;
  return all
    .map((s, k) => ({ value: String(k + 1), label: `${k + 1} ${s.name}`, s }))
    .filter((one, k) => !all.slice(0, k).some((other) => alike(one.s, other)));
});
const choices = computed(() => source.read?.choices ?? []);
/** The options of a rule; one that this job says itself can be given back to its house. */
const options = (c: Schemas["RuleChoice"]) => [
  ...c.options.map((o) => ({ value: o.value, label: o.says })),
  ...(source.read?.own_rules.includes(c.key) ? [{ value: "", label: "as the house has it" }] : []),
];
/** What is on its way counts as stored, so that two fields that are typed into soon after one another go together. */
function put(name: Name, value: string) {
  const now = { ...source.read?.head, ...source.putting("head") };
  source.put("head", { ...Object.fromEntries(NAMES.map((n) => [n, now[n] ?? ""])), [name]: value });
}
/** The density may be an expression. */
async function density(text: string) {
  if (/[-+*/(]/.test(text)) {
    try {
      text = String((await source.workOut(text)).value ?? text);
    } catch {
      /* the server says what is wrong with it when it is stored */
    }
  }
  put("density", text);
}
function rule(key: string, value: string) {
  source.put("rules", { ...source.putting("rules"), [key]: value });
}
</script>

<template>
  <div class="rules">
    <section class="head">
      <label
        >Unit<Choose
          :value="source.read?.head.unit || 'mm'"
          :disabled="!job.mayEdit"
          aria-label="Unit of the source"
          :options="[{ value: 'mm' }, { value: 'in', label: 'inch' }]"
          @change="(v) => put('unit', String(v))"
      /></label>
      <label
        >Style<Choose
          :value="source.read?.head.style || 'iso'"
          :disabled="!job.mayEdit"
          aria-label="Drawing style"
          :options="[
            { value: 'iso', label: 'metric' },
            { value: 'asme', label: 'inch' },
          ]"
          @change="(v) => put('style', String(v))"
      /></label>
      <label v-for="f in fields" :key="f.name" :class="{ wide: f.wide }"
        >{{ f.label
        }}<Field
          :of="`${source.id}.head.${f.name}`"
          :value="source.read?.head[f.name]"
          :disabled="!job.mayEdit"
          :placeholder="f.hint"
          :aria-label="f.label"
          @put="(t) => (f.name === 'density' ? density(t) : put(f.name, t))"
      /></label>
      <label v-if="solids.length > 1"
        >Solid that the source is of<Choose
          :value="source.read?.head.solid ?? ''"
          :disabled="!job.mayEdit"
          aria-label="Solid that the source is of"
          :options="[{ value: '', label: 'not said yet' }, ...solids]"
          @change="(v) => put('solid', String(v))"
      /></label>
    </section>
    <p class="quiet">General tolerance tables are named on the sheet; confirm them with the contract.</p>
    <h3>Where houses differ</h3>
    <section class="choices">
      <label v-for="c in choices" :key="c.key"
        >{{ c.title }}
        <Choose
          :value="source.read?.rules[c.key]"
          :disabled="!job.mayEdit"
          :aria-label="c.title"
          :options="options(c)"
          @change="(v) => rule(c.key, String(v))"
        />
      </label>
    </section>
  </div>
</template>

<style scoped>
.head,
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 8px 12px;
}
label {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: end;
  gap: 2px;
  font-size: 13px;
  color: var(--quiet);
  min-width: 0;
}
.wide {
  grid-column: 1 / -1;
}
h3 {
  margin: 10px 0 6px;
}
</style>
