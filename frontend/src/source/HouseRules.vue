<script setup lang="ts">
import { computed, reactive, watch } from "vue";
import { useJob } from "../state";
import { useSource } from "./store";

const source = useSource();
const job = useJob();
const head = reactive<Record<string, string>>({});
const NAMES = ["title", "unit", "style", "material", "density", "general", "notes", "square", "frame"] as const;
watch(
  () => source.read,
  (read) => {
    if (!read || source.busyWith("head")) return;
    for (const n of NAMES) head[n] = read.head[n] ?? "";
  },
  { immediate: true },
);
const choices = computed(
  () =>
    (source.read?.choices ?? []) as unknown as {
      key: string;
      title: string;
      followed: boolean;
      options: { value: string; says: string }[];
    }[],
);
const groups = computed(() => [
  { title: "Where houses differ", says: "", choices: choices.value.filter((c) => c.followed) },
  {
    title: "Kept with the job",
    says: "For the people who draft and check. The draft itself does the first choice of each.",
    choices: choices.value.filter((c) => !c.followed),
  },
]);
function put(name: string, value: string) {
  head[name] = value;
  source.put("head", { ...Object.fromEntries(NAMES.map((n) => [n, head[n]])) });
}
/** The density may be an expression. */
async function density(text: string) {
  if (/[-+*/(]/.test(text)) {
    try {
      text = String(((await source.workOut(text)) as unknown as { value: number }).value);
    } catch {
      /* the server says what is wrong with it when it is stored */
    }
  }
  put("density", text);
}
function rule(key: string, value: string) {
  source.put("rules", { ...source.read?.rules, [key]: value });
}
const shared = computed(() => job.job?.shared ?? {});
</script>

<template>
  <div class="rules">
    <section class="head">
      <label
        >Title<input
          :value="head.title"
          :disabled="!job.mayEdit"
          @change="put('title', ($event.target as HTMLInputElement).value)"
      /></label>
      <label
        >Unit<select
          :value="head.unit || 'mm'"
          :disabled="!job.mayEdit"
          aria-label="Unit of the source"
          @change="put('unit', ($event.target as HTMLSelectElement).value)"
        >
          <option value="mm">mm</option>
          <option value="in">inch</option>
        </select></label
      >
      <label
        >Style<select
          :value="head.style || 'iso'"
          :disabled="!job.mayEdit"
          @change="put('style', ($event.target as HTMLSelectElement).value)"
        >
          <option value="iso">metric</option>
          <option value="asme">inch</option>
        </select></label
      >
      <label
        >Material<input
          :value="head.material"
          :disabled="!job.mayEdit"
          placeholder="e.g. brass"
          @change="put('material', ($event.target as HTMLInputElement).value)"
      /></label>
      <label
        >Density, g/cm³<input
          :value="head.density"
          :disabled="!job.mayEdit"
          placeholder="by the material"
          @change="density(($event.target as HTMLInputElement).value)"
      /></label>
      <label
        >General tolerances<input
          :value="head.general"
          :disabled="!job.mayEdit"
          :placeholder="`the set's: ${head.unit === 'in' ? shared.general_inch : shared.general_mm}`"
          @change="put('general', ($event.target as HTMLInputElement).value)"
      /></label>
      <label
        >One square of the print<input
          :value="head.square"
          :disabled="!job.mayEdit"
          placeholder="e.g. 5"
          @change="put('square', ($event.target as HTMLInputElement).value)"
      /></label>
      <label
        >Frame of the mass figures<input
          :value="head.frame"
          :disabled="!job.mayEdit"
          placeholder="0,0,0 or sharp left-front-bottom"
          @change="put('frame', ($event.target as HTMLInputElement).value)"
      /></label>
      <label class="wide"
        >Default notes of this part, parted by semicolons<input
          :value="head.notes"
          :disabled="!job.mayEdit"
          :placeholder="shared.notes ? `beside the set's: ${shared.notes}` : 'rounds R2; edges 0.3; blacken'"
          @change="put('notes', ($event.target as HTMLInputElement).value)"
      /></label>
    </section>
    <p class="quiet">General tolerance tables are named on the sheet; confirm them with the contract.</p>
    <template v-for="g in groups" :key="g.title">
      <h3>{{ g.title }}</h3>
      <p v-if="g.says" class="quiet">{{ g.says }}</p>
      <section class="choices">
        <label v-for="c in g.choices" :key="c.key"
          >{{ c.title }}
          <select
            :value="source.read?.rules[c.key]"
            :disabled="!job.mayEdit"
            @change="rule(c.key, ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="o in c.options" :key="o.value" :value="o.value">{{ o.says }}</option>
          </select>
        </label>
      </section>
    </template>
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
  gap: 2px;
  font-size: 13px;
  color: var(--quiet);
  min-width: 0;
}
input,
select {
  color: var(--ink);
  width: 100%;
}
.wide {
  grid-column: 1 / -1;
}
h3 {
  margin: 10px 0 6px;
}
</style>
