<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, reactive, ref, watch } from "vue";
import { api, Refusal, take } from "../api/client";
import { useJob } from "../state";

interface Line {
  number: string;
  where: string;
  text: string;
  words: string;
  error: { column: number; message: string } | null;
}
const store = useJob();
const lines = reactive<Line[]>([]);
const checkpoints = ref("");
const saved = ref<"saved" | "saving" | "unsaved">("saved");
const fault = ref("");
const keep = computed(() => `canonis.source.${store.id}`);
let version = 0;
let timer = 0;

function fill() {
  const source = store.job?.source;
  if (!source || saved.value !== "saved") return;
  version = source.version;
  const kept = localStorage.getItem(keep.value);
  lines.splice(
    0,
    lines.length,
    ...source.characteristics.map((c) => ({
      number: String(c.number),
      where: String(c.where ?? ""),
      text: String(c.text),
      words: String(c.words ?? ""),
      error: (c.error ?? null) as Line["error"],
    })),
  );
  checkpoints.value = source.checkpoints.join("\n");
  if (kept) {
    // Lines typed while the server was away, or refused as stale, are put back and saved again.
    const mine = JSON.parse(kept) as { lines: Line[]; checkpoints: string };
    lines.splice(0, lines.length, ...mine.lines);
    checkpoints.value = mine.checkpoints;
    schedule();
  }
}
watch(() => store.job, fill, { immediate: true });

function schedule() {
  saved.value = "unsaved";
  localStorage.setItem(keep.value, JSON.stringify({ lines, checkpoints: checkpoints.value }));
  clearTimeout(timer);
  timer = window.setTimeout(save, 500);
}
async function save() {
  if (saved.value !== "unsaved") return;
  saved.value = "saving";
  fault.value = "";
  const body = {
    version,
    lines: lines.map(({ number, where, text }) => ({ number, where, text })),
    checkpoints: checkpoints.value.split("\n").filter((t) => t.trim()),
  };
  try {
    const read = await take(api.PUT("/api/jobs/{job_id}/source", { params: { path: { job_id: store.id } }, body }));
    version = read.version;
    read.characteristics.forEach((c, k) => {
      if (lines[k] && lines[k].text === c.text) Object.assign(lines[k], { words: c.words, error: c.error ?? null });
    });
    if (store.job) store.job.source = read;
    if ((saved.value as string) === "unsaved") return;
    saved.value = "saved";
    localStorage.removeItem(keep.value);
    if (store.sheet) void store.loadProof();
  } catch (refusal) {
    fault.value = (refusal as Error).message;
    saved.value = "unsaved";
    if (refusal instanceof Refusal && refusal.status === 409) {
      const job = await take(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: store.id } } })).catch(
        () => null,
      );
      if (job) version = job.source.version;
      fault.value += " Press Save to put your lines in its place.";
    } else if (refusal instanceof Refusal && refusal.status === 0) timer = window.setTimeout(save, 2000);
  }
}
let asked = 0;
async function preview(line: Line) {
  schedule();
  const ticket = ++asked;
  const unit = (store.job?.unit ?? "mm") as "mm" | "in";
  const read = await take(api.POST("/api/read-line", { body: { text: line.text, unit } })).catch(() => null);
  if (read && ticket === asked) Object.assign(line, { words: read.words, error: read.error ?? null });
}
async function add(after: number) {
  const next = String(1 + Math.max(0, ...lines.map((l) => Number(l.number) || 0)));
  lines.splice(after + 1, 0, { number: next, where: lines[after]?.where ?? "", text: "", words: "", error: null });
  await nextTick();
  document.querySelector<HTMLInputElement>(`[data-line="${after + 1}"]`)?.focus();
}
function drop(k: number) {
  lines.splice(k, 1);
  schedule();
}
async function paste(event: ClipboardEvent, k: number) {
  const rows =
    event.clipboardData
      ?.getData("text")
      .split(/\r?\n/)
      .filter((t) => t.trim()) ?? [];
  if (rows.length < 2) return;
  event.preventDefault();
  for (const row of rows.reverse()) {
    const cells = row.split("|").map((c) => c.trim());
    lines.splice(k + 1, 0, {
      number: cells.length > 2 ? cells[0] : "",
      where: cells.length > 2 ? cells[1] : "",
      text: cells[cells.length - 1],
      words: "",
      error: null,
    });
  }
  lines.forEach((l, i) => {
    if (!l.number) l.number = String(i + 1);
  });
  if (!lines[k].text) lines.splice(k, 1);
  schedule();
}
const header = reactive({ title: "", material: "", limits: "middle" });
watch(
  () => store.job,
  (j) => j && Object.assign(header, { title: j.title, material: j.material, limits: j.limits }),
  { immediate: true },
);
async function patch() {
  const body = { title: header.title, material: header.material, limits: header.limits as "middle" };
  const job = await store.guard(() =>
    take(api.PATCH("/api/jobs/{job_id}", { params: { path: { job_id: store.id } }, body })),
  );
  if (!job) return;
  version = job.source.version;
  store.job = job;
  if (store.sheet) await store.guard(() => store.loadSheet().then(() => store.loadProof()));
}
onBeforeUnmount(() => {
  if (saved.value === "unsaved") void save();
});
</script>

<template>
  <div class="source">
    <header>
      <h2>What the source says</h2>
      <span class="quiet" aria-live="polite">{{
        saved === "saved" ? "all stored" : saved === "saving" ? "storing …" : "not stored yet"
      }}</span>
      <button v-if="saved === 'unsaved'" class="plain" @click="save">Save</button>
    </header>
    <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
    <div class="head">
      <label>Title<input v-model="header.title" :disabled="!store.mayEdit" @change="patch" /></label>
      <label
        >Material<input v-model="header.material" :disabled="!store.mayEdit" placeholder="e.g. brass" @change="patch"
      /></label>
      <label
        >Limits are modelled at
        <select v-model="header.limits" :disabled="!store.mayEdit" @change="patch">
          <option>middle</option>
          <option>nominal</option>
          <option>upper</option>
          <option>lower</option>
        </select>
      </label>
      <span class="quiet"
        >General tolerance of the set:
        {{ store.job?.unit === "in" ? store.job?.shared.general_inch : store.job?.shared.general_mm }} (confirm with the
        contract)</span
      >
    </div>
    <div class="table" role="table" aria-label="Characteristics">
      <div class="cap quiet">
        <span>No.</span><span>Where</span><span>Shorthand</span><span>Read as</span><span></span>
      </div>
      <div v-for="(l, k) in lines" :key="k" class="line" :class="{ bad: l.error && l.text }">
        <input
          v-model="l.number"
          :aria-label="`Number of line ${k + 1}`"
          :disabled="!store.mayEdit"
          @input="schedule"
        />
        <input v-model="l.where" :aria-label="`Place of line ${k + 1}`" :disabled="!store.mayEdit" @input="schedule" />
        <span class="type">
          <input
            v-model="l.text"
            :data-line="k"
            :aria-label="`Shorthand of line ${k + 1}`"
            :disabled="!store.mayEdit"
            spellcheck="false"
            @input="preview(l)"
            @keydown.enter.prevent="add(k)"
            @paste="paste($event, k)"
          />
          <i
            v-if="l.error && l.text"
            class="caret"
            :style="{ left: `calc(7px + ${Math.min(l.error.column - 1, 30)}ch)` }"
            >▲</i
          >
        </span>
        <span v-if="l.error && l.text" class="fault">Column {{ l.error.column }}: {{ l.error.message }}</span>
        <span v-else>{{ l.words }}</span>
        <button
          v-if="store.mayEdit"
          class="plain x"
          :aria-label="`Delete line ${k + 1}`"
          title="Delete this line"
          @click="drop(k)"
        >
          –
        </button>
      </div>
      <button v-if="store.mayEdit" class="plain add" @click="add(lines.length - 1)">Add a line</button>
    </div>
    <section class="foot">
      <div>
        <h3>Mass checkpoints</h3>
        <p class="quiet">step | mass | centre of mass | frame origin</p>
        <textarea
          v-model="checkpoints"
          rows="3"
          :disabled="!store.mayEdit"
          aria-label="Mass checkpoints"
          spellcheck="false"
          @input="schedule"
        />
      </div>
      <div>
        <h3>Contradictions in the source</h3>
        <p v-if="!store.job?.source.findings.length" class="quiet">None seen.</p>
        <p v-for="(f, k) in store.job?.source.findings" :key="k">{{ f.message }}</p>
      </div>
      <div>
        <h3>How to write it</h3>
        <p class="quiet write">
          <code>4x ⌀6.6 THRU ⌴⌀11 ↧6.5</code> or <code>4x dia 6.6 thru cbore 11 6.5 deep</code><br />
          <code>2 11/16</code> · <code>12 ±.1</code> · <code>12.1/11.9</code> · <code>(80)</code> · <code>R6</code> ·
          <code>30°</code> · <code>2 x 45°</code>
        </p>
      </div>
    </section>
  </div>
</template>

<style scoped>
.source {
  height: 100%;
  overflow: auto;
  padding: 14px 18px;
}
header {
  display: flex;
  gap: 14px;
  align-items: baseline;
}
.head {
  display: flex;
  gap: 14px;
  align-items: end;
  flex-wrap: wrap;
  margin-bottom: 12px;
}
.head label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--quiet);
}
.head input,
.head select {
  color: var(--ink);
}
.table {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 6px 8px 8px;
}
.cap,
.line {
  display: grid;
  grid-template-columns: 46px 118px minmax(200px, 1fr) minmax(180px, 1fr) 28px;
  gap: 6px;
  align-items: center;
  padding: 2px 0;
}
.cap {
  font-size: 12px;
}
.line input {
  width: 100%;
}
.type {
  position: relative;
}
.type input {
  font-family: "Canonis Sheet", ui-monospace, monospace;
}
.caret {
  position: absolute;
  top: 20px;
  font-style: normal;
  font-size: 9px;
  color: var(--vermilion);
  pointer-events: none;
}
.bad .type input {
  border-color: var(--vermilion);
}
.fault {
  color: var(--vermilion);
}
.x {
  padding: 1px 8px;
}
.add {
  margin-top: 6px;
}
.foot {
  display: grid;
  grid-template-columns: 1.2fr 1fr 1.2fr;
  gap: 22px;
  margin-top: 16px;
}
textarea {
  width: 100%;
  font-family: "Canonis Sheet", sans-serif;
}
.foot p {
  margin: 0 0 4px;
}
.write {
  line-height: 1.9;
}
code {
  background: var(--paper);
  border: 1px solid var(--rule);
  padding: 0 4px;
  font-family: "Canonis Sheet", monospace;
  color: var(--ink);
}
</style>
