<script setup lang="ts">
import { Button, Checkbox, Input, Popconfirm, Textarea } from "ant-design-vue";
import { computed, ref, watch } from "vue";
import { useJob } from "../state";
import MassChart from "./MassChart.vue";
import { useSolid, type LedgerRow } from "./store";
import { writer } from "./words";
import FilePick from "../parts/FilePick.vue";

const store = useJob();
const solid = useSolid();
const at = ref<number | null>(null);
const editing = ref<number | null>(null);
const words = ref("");
const writing = ref(false);
const recipe = ref("");
const inch = computed(() => store.job?.unit === "in");
const states = computed(() => solid.station?.states ?? []);
const rows = computed(() => solid.ledger?.rows ?? []);
const first = computed(() => solid.ledger?.first ?? null);
const stale = computed(() => solid.station?.ledger?.stale ?? false);
const row = computed<LedgerRow | null>(() => (at.value == null ? null : (rows.value[at.value] ?? null)));
const MARK = { proven: "◆", differs: "▼", unproven: "◇", none: "○" } as const;
const SAYS = { proven: "agrees", differs: "differs", unproven: "not proven", none: "no checkpoint" } as const;
const WORD: Record<string, string> = { new: "new", gone: "gone", moved: "moved", resized: "resized", count: "count" };
/** A mass in the job's unit: grams, or pounds on an inch job. */
const grams = (g: number | null | undefined) =>
  g == null ? "–" : inch.value ? (g / 453.59237).toFixed(4) : g.toFixed(Math.abs(g) < 100 ? 2 : 1);
const cell = (r: LedgerRow) => (r.mass_g == null ? `${r.volume_mm3.toFixed(0)} mm³` : grams(r.mass_g));
const more = (r: LedgerRow) => {
  const v = r.mass_more_g ?? r.volume_more_mm3;
  return `${v >= 0 ? "+" : "−"}${grams(Math.abs(v))}`;
};
const place = (v: number[] | null | undefined) => (v ? v.map((c) => writer(inch.value)(c)).join(", ") : "–");
watch(
  first,
  (f) => {
    if (f) at.value = f.step;
  },
  { immediate: true },
);
/** Chosen files become states in the order of their names. */
async function bring(files: File[]) {
  const order = [...files].sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
  for (const file of order) await solid.addState(file);
}
function rename(id: number, name: string) {
  editing.value = id;
  words.value = name;
}
async function keepName(id: number) {
  editing.value = null;
  if (words.value.trim()) await solid.changeState(id, { name: words.value });
}
const BLANK = `{
  "schema": "canonis.recipe/1", "unit": "mm", "name": "part",
  "steps": [
    {"name": "blank", "op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, "#1", "#2"]}}, "distance": "#3"}
  ]
}`;
/** One line a step, its name first, so that a recipe reads as the list it is. */
function spread(data: Record<string, unknown>): string {
  const { steps, schema, ...head } = data;
  const top = JSON.stringify({ schema, ...head }).slice(1, -1);
  const list: Record<string, unknown>[] = Array.isArray(steps) ? steps : [];
  const lines = list.map(({ name, op, ...rest }) => `    ${JSON.stringify({ name, op, ...rest })}`);
  return `{\n  ${top},\n  "steps": [\n${lines.join(",\n")}\n  ]\n}`;
}
function openRecipe() {
  writing.value = !writing.value;
  if (writing.value && !recipe.value) recipe.value = solid.station?.recipe ? spread(solid.station.recipe) : BLANK;
}
const busy = computed(() => !!store.running && ["ledger", "recipe", "twin"].includes(store.running.kind));
const saved = computed(() => solid.ledger?.saved ?? null);
const twin = computed(() => solid.twin);
const volume = (v: number) =>
  v < 1e-6 ? "nothing" : inch.value ? `${(v / 16387.064).toPrecision(4)} in³` : `${v.toPrecision(5)} mm³`;
</script>

<template>
  <div class="steps">
    <p v-if="!states.length" class="quiet">
      States of the part on its way to the finished one: bring in a STEP file for each step, or write the recipe that
      makes them. Each is weighed against the source's checkpoint for it.
    </p>
    <div v-if="store.mayEdit" class="bar">
      <FilePick name="state-files" accept=".step,.stp" multiple @files="bring">Add states …</FilePick>
      <Button :aria-expanded="writing" @click="openRecipe">Recipe …</Button>
      <Button type="primary" :disabled="!states.length || busy" @click="solid.weighStates()"> Weigh the steps </Button>
    </div>
    <div v-if="writing" class="recipe">
      <Textarea
        v-model:value="recipe"
        :rows="11"
        spellcheck="false"
        aria-label="Recipe of the part"
        placeholder="canonis.recipe/1"
      />
      <p class="quiet">
        Sizes may be “#4”: characteristic 4 of the source, “#4.depth” one of its parts, or sums of them.
      </p>
      <div class="bar">
        <Button type="primary" :disabled="busy" @click="solid.sendRecipe(recipe, true)">
          Build, and make the states
        </Button>
        <Button :disabled="busy" @click="solid.sendRecipe(recipe, false)">Build and keep</Button>
      </div>
    </div>
    <template v-if="rows.length">
      <p v-if="stale" class="ask">The states, the source or the recipe changed since: weigh the steps again.</p>
      <MassChart :rows="rows" :at="at" @pick="at = $event" />
      <section v-if="first" class="first">
        <h4>▼ First difference: step {{ first.step + 1 }}, “{{ first.name }}”</h4>
        <p v-if="first.added.length" class="quiet">It made: {{ first.added.slice(0, 4).join("; ") }}.</p>
        <template v-if="first.slips.length">
          <p v-for="(s, k) in first.slips.slice(0, 3)" :key="s.text" :class="{ likely: !k }">
            <b>{{ k ? "or" : "Likely" }}:</b> {{ s.text }}
            <span class="quiet">({{ s.agree }} of {{ s.of }} figures agree)</span>
          </p>
        </template>
        <p v-else>No slip of the catalogue explains it on its own.</p>
      </section>
      <p v-else-if="rows.some((r) => r.state === 'proven')" class="good">
        ◆ Every weighed step agrees with the
        {{ solid.ledger?.expected_by === "twin" ? "as-specified twin" : "source" }}.
      </p>
      <table class="ledger-table">
        <thead>
          <tr>
            <th></th>
            <th>step</th>
            <th class="num">found, {{ inch ? "lb" : "g" }}</th>
            <th class="num">change</th>
            <th class="num">expected</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="(r, k) in rows"
            :key="k"
            :class="{ on: at === k, differs: r.state === 'differs' }"
            tabindex="0"
            @click="at = at === k ? null : k"
            @keydown.enter="at = at === k ? null : k"
          >
            <td class="quiet">{{ k + 1 }}</td>
            <td>{{ r.name }}</td>
            <td class="num tab">{{ cell(r) }}</td>
            <td class="num tab">{{ more(r) }}</td>
            <td class="num tab">{{ grams(r.expected?.mass_g) }}</td>
            <td :title="SAYS[r.state]">
              {{ MARK[r.state] }}<small v-if="r.state === 'differs'"> {{ r.differs.join(", ") }}</small>
            </td>
          </tr>
        </tbody>
      </table>
      <section v-if="row" class="detail">
        <h4>{{ row.name }}</h4>
        <p class="tab">
          {{ row.faces }} faces ({{ row.faces_more >= 0 ? "+" : "" }}{{ row.faces_more }}) · centre
          {{ place(row.centre_in_frame_mm ?? row.centre_mm)
          }}<span v-if="row.expected?.centre_mm"> · source {{ place(row.expected.centre_mm) }}</span>
        </p>
        <p v-for="c in row.changes" :key="c.text">
          <em>{{ WORD[c.change] ?? c.change }}</em> {{ c.text }}
        </p>
        <p v-if="!row.changes.length" class="quiet">No feature came or went.</p>
        <p v-if="row.note" class="quiet">{{ row.note }}</p>
      </section>
      <p v-if="saved" class="quiet">
        {{ (saved.ratio * 100).toFixed(1) }} % of “{{ saved.from }}” is left in “{{ saved.to }}”; its material would
        give {{ saved.parts_from_same.toFixed(2) }} such parts.
      </p>
    </template>
    <h4 v-if="states.length">States</h4>
    <ol v-if="states.length" class="states">
      <li v-for="(s, k) in states" :key="s.id">
        <form v-if="editing === s.id" @submit.prevent="keepName(s.id)">
          <Input v-model:value="words" aria-label="Name of the state" :maxlength="80" @keydown.esc="editing = null" />
          <Button type="primary" html-type="submit">Keep</Button>
        </form>
        <template v-else>
          <span class="name">{{ s.name }}</span>
          <small class="quiet">{{ s.origin === "recipe" ? "recipe" : "file" }}</small>
          <span v-if="store.mayEdit" class="doing">
            <Button :aria-label="`rename ${s.name}`" @click="rename(s.id, s.name)">rename</Button>
            <Button :aria-label="`Move ${s.name} up`" :disabled="!k" @click="solid.changeState(s.id, { move: 'up' })">
              ↑
            </Button>
            <Button
              :aria-label="`Move ${s.name} down`"
              :disabled="k === states.length - 1"
              @click="solid.changeState(s.id, { move: 'down' })"
            >
              ↓
            </Button>
            <Popconfirm
              :title="`Remove the state “${s.name}”? Its file goes with it.`"
              ok-text="Remove"
              cancel-text="Keep"
              @confirm="solid.removeState(s.id)"
            >
              <Button :aria-label="`remove ${s.name}`">remove</Button>
            </Popconfirm>
          </span>
        </template>
      </li>
    </ol>
    <template v-if="solid.station?.recipe">
      <h4>As-specified twin</h4>
      <p class="quiet">The recipe built with the source's own sizes, against the model.</p>
      <Button v-if="store.mayEdit" :disabled="busy || !store.job?.model_id" @click="solid.compareTwin()">
        Compare model and twin
      </Button>
      <template v-if="twin">
        <p v-if="solid.station?.twin?.stale" class="ask">
          The model, the source or the recipe changed since: compare again.
        </p>
        <p v-if="twin.same" class="good">◆ The same body: nothing is in one and not in the other.</p>
        <template v-else>
          <p>
            Only in the model <b class="tab">{{ volume(twin.only_model_mm3) }}</b>, only in the twin
            <b class="tab">{{ volume(twin.only_twin_mm3) }}</b>.
          </p>
          <Checkbox v-model:checked="solid.showLumps">show where</Checkbox>
          <p v-for="(l, k) in twin.lumps.slice(0, 8)" :key="k" class="tab">
            {{ l.side === "model" ? "▲ model" : "▼ twin" }} {{ volume(l.volume_mm3) }} at {{ place(l.centre_mm)
            }}<span v-if="l.near" class="quiet"> near {{ l.near }}</span>
          </p>
        </template>
      </template>
    </template>
    <template v-if="store.mayEdit && store.job?.model_id">
      <h4>This model as the source</h4>
      <p class="quiet">
        Where the source is itself a model: bring it in, then write its measurements down as characteristics.
      </p>
      <Button @click="solid.adopt()">Take its measurements for the source</Button>
    </template>
  </div>
</template>

<style scoped>
.bar,
.states li {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
}
.bar {
  margin: 4px 0 8px;
}
textarea {
  width: 100%;
  font-family: ui-monospace, monospace;
  font-size: 12px;
  white-space: pre;
  overflow: auto;
}
.ask {
  background: #f4e3c3;
  border: 1px solid #c79a45;
  padding: 4px 8px;
}
.first {
  border: 1px solid var(--rule);
  border-left: 3px solid var(--plum);
  background: var(--paper);
  padding: 2px 10px 8px;
  margin: 8px 0;
}
.likely {
  font-size: 15px;
}
.good {
  color: var(--moss);
  font-weight: 700;
}
.ledger-table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 6px;
}
.ledger-table th {
  text-align: left;
  color: var(--quiet);
  font-weight: 400;
}
.ledger-table .num {
  text-align: right;
}
.ledger-table td,
.ledger-table th {
  padding: 3px 6px;
  border-bottom: 1px solid #e4dfd4;
}
.ledger-table tbody tr {
  cursor: pointer;
}
.ledger-table tr.on {
  background: var(--paper);
  box-shadow: inset 0 0 0 1px var(--halo);
}
.ledger-table tr.differs td {
  color: var(--plum);
}
.detail em {
  color: var(--plum);
  font-style: normal;
  font-size: 12px;
}
.states {
  margin: 0;
  padding-left: 22px;
}
.states .name {
  flex: 1;
}
.states .doing button {
  font-size: 12px;
  padding: 1px 6px;
  margin-left: 2px;
}
h4 {
  margin: 14px 0 4px;
}
p {
  margin: 4px 0;
}
</style>
