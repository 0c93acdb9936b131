<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { nextTick, ref } from "vue";
import { usePad } from "../edit/pad";
import { useJob } from "../state";
import { useSource, type Worked } from "./store";

const source = useSource();
const job = useJob();
const box = ref<HTMLElement>();
interface Row {
  text: string;
  made: Worked | null;
  fault?: string;
}
/** Why a text cannot be worked out: the server says so when it is typed. */
const faults = new Map<string, string>();
const rows = usePad<Row>("workings", box, {
  from: (read) => read.workings.map((r) => ({ ...r, fault: r.made ? "" : faults.get(r.text) })),
  says: (row) => row.text.trim(),
  answered: (mine, theirs) => {
    if (theirs.made) Object.assign(mine, { made: theirs.made, fault: "" });
  },
});
function store() {
  source.put(
    "workings",
    rows.map((r) => r.text.trim()).filter((t) => t),
  );
}
async function work(k: number) {
  const row = rows[k];
  const text = row.text;
  if (!text.trim()) return;
  let made: Worked | null = null;
  let fault = "";
  try {
    made = await source.workOut(text);
  } catch (reason) {
    fault = (reason as Error).message;
    faults.set(text.trim(), fault);
  }
  // An answer to what has been typed over meanwhile is dropped.
  if (row.text === text) Object.assign(row, { made, fault });
}
function done(k: number) {
  store();
  void work(k);
}
async function next(k: number) {
  done(k);
  if (k === rows.length - 1) rows.push({ text: "", made: null });
  await nextTick();
  box.value?.querySelectorAll<HTMLInputElement>(".entry")[k + 1]?.focus();
}
function add() {
  rows.push({ text: "", made: null });
  void nextTick(() => box.value?.querySelectorAll<HTMLInputElement>(".entry")[rows.length - 1]?.focus());
}
function feed(k: number) {
  const made = rows[k].made!;
  const text = made.kind === "angle" ? `${made.typed.replace("°", "")}°` : made.typed;
  const line = source.insert(source.lines.at(-1)?.id ?? null, {
    text,
    provenance: "worked out",
    working: made.name || `W${k + 1}`,
  });
  source.at = line.id;
}
</script>

<template>
  <div ref="box" class="pad">
    <p class="lead">
      Fractions, units and the trade's functions, with the steps kept:
      <code>rest = 2 1/2 - 2 * 3/8</code> · <code>#3 / 2</code> · <code>pcd(60, 6, 15°)</code> ·
      <code>rim(10, 1.5)</code> · <code>tap drill M8</code> · chord, sagitta, comp, leg, slot, pitch, span, middle,
      keyaxis, corners, mass
    </p>
    <article v-for="(row, k) in rows" :key="k">
      <div class="line">
        <b class="quiet">W{{ k + 1 }}</b>
        <Input
          v-model:value="row.text"
          class="entry"
          :aria-label="`Working ${k + 1}`"
          :disabled="!job.mayEdit"
          spellcheck="false"
          placeholder="wall = 2 1/2 - 2 * 3/8"
          @input="done(k)"
          @keydown.enter.prevent="next(k)"
        />
        <b v-if="row.made" class="result">= {{ row.made.shown }}</b>
        <Button v-if="row.made && job.mayEdit" class="tight" @click="feed(k)">Make it a line</Button>
        <Button
          v-if="job.mayEdit"
          class="tight"
          :aria-label="`Delete working ${k + 1}`"
          @click="(rows.splice(k, 1), store())"
        >
          –
        </Button>
      </div>
      <ol v-if="row.made" class="steps">
        <li v-for="(s, j) in row.made.steps" :key="j">{{ s }}</li>
      </ol>
      <p v-if="row.fault" class="fault">▲ {{ row.fault }}</p>
    </article>
    <Button v-if="job.mayEdit" @click="add">Add a working</Button>
  </div>
</template>

<style scoped>
article {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 6px 10px;
  margin-bottom: 6px;
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
}
.entry {
  flex: 1;
  min-width: 0;
  font-family: "Canonis Sheet", sans-serif;
  font-size: 15px;
}
.result {
  white-space: nowrap;
}
.steps {
  margin: 3px 0 0 30px;
  padding: 0;
  list-style: none;
  color: var(--quiet);
  font-family: "Canonis Sheet", sans-serif;
}
</style>
