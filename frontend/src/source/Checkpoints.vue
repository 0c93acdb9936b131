<script setup lang="ts">
import { Button, Input, Textarea } from "ant-design-vue";
import { computed, ref } from "vue";
import { usePad } from "../edit/pad";
import { api, take } from "../api/client";
import { useJob } from "../state";
import { useSource } from "./store";

const COLUMNS = ["step", "mass", "centre", "frame", "volume", "area"] as const;
interface Row {
  cells: string[];
  read: { mass_g: number | null; frame_name: string } | null;
}
const source = useSource();
const job = useJob();
const box = ref<HTMLElement>();
const rows = usePad<Row>("checkpoints", box, {
  from: (read) =>
    read.checkpoints.map((c) => ({
      cells: [...c.text.split("|").map((x) => x.trim()), "", "", "", "", ""].slice(0, 6),
      read: c.read,
    })),
  says: (row) => line(row.cells).replace(/^[| ]+$/, ""),
  answered: (mine, theirs) => (mine.read = theirs.read),
});
const pasting = ref(false);
const pasted = ref("");
const fault = ref("");
function line(cells: string[]) {
  const kept = cells.map((c) => c.trim());
  while (kept.length > 2 && !kept.at(-1)) kept.pop();
  return kept.join(" | ");
}
function store() {
  source.put(
    "checkpoints",
    rows.map((r) => line(r.cells)).filter((t) => t.replace(/[| ]/g, "")),
  );
}
/** A cell may hold an expression: what can be worked out is put in its place. */
async function cell(row: Row, k: number) {
  const text = row.cells[k].trim();
  if (k === 1 && /[-+*/(]/.test(text)) {
    try {
      const shown = (await source.workOut(text)).shown;
      // Typed over meanwhile: what is typed stands.
      if (row.cells[k].trim() === text) {
        row.cells[k] = shown;
        store();
      }
      fault.value = "";
    } catch (reason) {
      fault.value = (reason as Error).message;
    }
  }
}
async function paste() {
  try {
    const lines = await take(
      api.POST("/api/jobs/{job_id}/checkpoint-table", {
        params: { path: { job_id: source.id } },
        body: { text: pasted.value },
      }),
    );
    for (const text of lines)
      rows.push({ cells: [...text.split("|").map((x) => x.trim()), "", "", "", "", ""].slice(0, 6), read: null });
    pasting.value = false;
    pasted.value = fault.value = "";
    store();
  } catch (reason) {
    fault.value = (reason as Error).message;
  }
}
const unread = (row: Row) =>
  source.findings.find((f) => f.rule === "source.unread" && f.message.endsWith(line(row.cells).slice(0, 80)));
/** How the part grows: mass over the steps. */
const chart = computed(() => {
  const known = rows.map((r) => r.read?.mass_g ?? null);
  const most = Math.max(1e-9, ...known.map((m) => m ?? 0));
  const wide = 560 / Math.max(1, rows.length);
  return known.map((m, k) => ({
    name: rows[k].cells[0] || `step ${k + 1}`,
    mass: m,
    x: 20 + k * wide + wide / 2,
    y: m === null ? null : 96 - (m / most) * 78,
    wide,
  }));
});
</script>

<template>
  <div ref="box" class="mass">
    <p class="lead">
      What the source says the part weighs, step by step. Mass in g, kg, lb or oz; lengths in
      {{ source.read?.head.unit === "in" ? "inches" : "mm" }}. Frame: <code>0,0,0</code>,
      <code>left-front-bottom</code>, <code>sharp left-front-bottom</code>, <code>axis H1</code>
    </p>
    <table v-if="rows.length">
      <thead>
        <tr>
          <th v-for="c in COLUMNS" :key="c">{{ c === "centre" ? "centre of mass" : c }}</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, k) in rows" :key="k" :class="{ bad: unread(row) }" :title="unread(row)?.message">
          <td v-for="(c, j) in COLUMNS" :key="c">
            <Input
              v-model:value="row.cells[j]"
              :aria-label="`${c} of checkpoint ${k + 1}`"
              :disabled="!job.mayEdit"
              @input="store"
              @blur="cell(row, j)"
            />
          </td>
          <td>
            <Button v-if="job.mayEdit" :aria-label="`Delete checkpoint ${k + 1}`" @click="(rows.splice(k, 1), store())">
              –
            </Button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="row in rows.filter(unread)" :key="row.cells[0]" class="fault">▲ {{ unread(row)!.message }}</p>
    <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
    <div v-if="job.mayEdit" class="bar">
      <Button @click="rows.push({ cells: ['', '', '', '', '', ''], read: null })"> Add a checkpoint </Button>
      <Button @click="pasting = !pasting">Paste a table</Button>
    </div>
    <form v-if="pasting" @submit.prevent="paste">
      <Textarea
        v-model:value="pasted"
        :rows="5"
        aria-label="Table of checkpoints"
        placeholder="step   mass [g]   x   y   z&#10;blank   412.7   48   25   12"
      />
      <Button type="primary" html-type="submit">Take it over</Button>
    </form>
    <svg v-if="chart.some((c) => c.mass !== null)" viewBox="0 0 600 128" role="img" aria-label="Mass over the steps">
      <line x1="16" y1="97" x2="590" y2="97" />
      <polyline
        :points="
          chart
            .filter((c) => c.y !== null)
            .map((c) => `${c.x},${c.y}`)
            .join(' ')
        "
      />
      <g v-for="c in chart" :key="c.name + c.x">
        <path v-if="c.y !== null" :d="`M${c.x} ${c.y - 5}l5 5l-5 5l-5 -5z`" />
        <text v-if="c.y !== null" :x="c.x" :y="c.y - 9">{{ Math.round((c.mass ?? 0) * 10) / 10 }} g</text>
        <text :x="c.x" y="112" class="name">{{ c.name.slice(0, Math.max(3, Math.floor(c.wide / 7))) }}</text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-size: 12px;
  font-weight: 400;
  color: var(--quiet);
}
td {
  padding: 1px 3px 1px 0;
}
td input {
  width: 100%;
  min-width: 50px;
}
.bad input {
  border-color: var(--vermilion);
}
.bar {
  display: flex;
  gap: 8px;
  margin: 8px 0;
}
textarea {
  width: 100%;
}
svg {
  width: 100%;
  max-height: 150px;
  background: var(--panel);
  border: 1px solid var(--rule);
}
svg line,
svg polyline {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1;
}
svg polyline {
  stroke: var(--petrol);
  stroke-width: 1.5;
}
svg path {
  fill: var(--petrol);
}
svg text {
  font-size: 11px;
  text-anchor: middle;
  fill: var(--ink);
}
svg .name {
  fill: var(--quiet);
}
th:nth-child(3) {
  width: 26%;
}
th:nth-child(4) {
  width: 19%;
}
</style>
