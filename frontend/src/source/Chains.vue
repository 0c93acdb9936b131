<script setup lang="ts">
import { Button, Input, Textarea } from "ant-design-vue";
import { computed, ref } from "vue";
import { usePad } from "../edit/pad";
import type { Schemas } from "../api/client";
import { useJob } from "../state";
import { useSource } from "./store";

type Solved = Schemas["SolvedChain"];
const source = useSource();
const job = useJob();
interface Row {
  direction: string;
  text: string;
  solved: Solved | null;
}
const box = ref<HTMLElement>();
const rows = usePad<Row>("chains", box, {
  from: (read) => read.chains.map((r) => ({ ...r })),
  says: (row) => (row.text.trim() ? `${row.direction.trim()}: ${row.text.trim()}` : ""),
  answered: (mine, theirs) => (mine.solved = theirs.solved),
});
const unit = computed(() => source.read?.head.unit ?? "mm");
const scale = computed(() => (unit.value === "in" ? 25.4 : 1));
function store() {
  source.put(
    "chains",
    rows.filter((r) => r.text.trim()).map(({ direction, text }) => ({ direction, text })),
  );
}
function add() {
  rows.push({ direction: ["x", "y", "z"][rows.length] ?? `chain ${rows.length + 1}`, text: "", solved: null });
}
/** A number of the server's in the job's unit, for the eye only. */
const n = (mm: number) => String(Math.round((mm / scale.value) * 1e5) / 1e5);
function sum(span: Solved["spans"][number]) {
  const text = span.terms
    .map(
      (t, k) =>
        `${t.times < 0 ? "−" : k ? "+" : ""} ${Math.abs(t.times) === 1 ? "" : `${Math.abs(t.times)} × `}${t.member}`,
    )
    .join(" ");
  return `${text.trim()} = ${n(span.value_mm)}`;
}
function places(solved: Solved) {
  const all = Object.entries(solved.levels_mm).sort((a, b) => a[1] - b[1]);
  const low = all[0]?.[1] ?? 0;
  const high = all.at(-1)?.[1] ?? 1;
  return all.map(([name, at]) => ({ name, at, left: high > low ? ((at - low) / (high - low)) * 100 : 0 }));
}
const finding = (direction: string) =>
  source.findings.filter((f) => f.subject === direction && f.rule.startsWith("chain."));
const unread = (text: string) =>
  source.findings.find((f) => f.rule === "source.unread" && f.message.endsWith(text.slice(0, 80)));
function feed(span: Solved["spans"][number]) {
  source.insert(source.lines.at(-1)?.id ?? null, {
    text: n(span.value_mm),
    provenance: "worked out",
    where: `chain ${span.name}`,
  });
}
</script>

<template>
  <div ref="box" class="chains">
    <p class="lead">
      Name the levels along a direction and what is known between them; the missing ones are worked out.
      <code>A -12.5- B -?- C; A -40- C</code> · <code>A -12 ±.1- B</code> · <code>A -#3- B</code> takes line 3 ·
      <code>A = D about M</code> · <code>equal A B C D</code> · <code>A-B = half A-C</code>
    </p>
    <article v-for="(row, k) in rows" :key="k" class="strip">
      <div class="line">
        <Input
          v-model:value="row.direction"
          class="dir"
          :aria-label="`Direction of chain ${k + 1}`"
          :disabled="!job.mayEdit"
          @input="store"
        />
        <Textarea
          v-model:value="row.text"
          :rows="2"
          :aria-label="`Chain ${k + 1}`"
          :disabled="!job.mayEdit"
          spellcheck="false"
          placeholder="A -12.5- B -?- C; A -40- C"
          @input="store"
        />
        <Button v-if="job.mayEdit" :aria-label="`Delete chain ${k + 1}`" @click="(rows.splice(k, 1), store())">
          –
        </Button>
      </div>
      <template v-if="row.solved">
        <div v-if="Object.keys(row.solved.levels_mm).length > 1" class="scale" aria-hidden="true">
          <span v-for="p in places(row.solved)" :key="p.name" :style="{ left: `${p.left}%` }"
            ><b>{{ p.name }}</b
            ><i>{{ n(p.at) }}</i></span
          >
        </div>
        <ul>
          <li v-for="s in row.solved.spans" :key="s.name">
            <b>{{ s.name }} = {{ n(s.value_mm) }} {{ unit }}</b> <span class="quiet">{{ sum(s) }}</span>
            <span v-if="s.worst_mm !== null" class="quiet">
              · tolerances pile up to ±{{ n(s.worst_mm) }} at worst, ±{{ n(s.rss_mm ?? 0) }} by root sum square</span
            >
            <Button v-if="job.mayEdit" class="tight" @click="feed(s)">Make it a line</Button>
          </li>
          <li v-for="f in finding(row.direction)" :key="f.message" class="fault">▼ {{ f.message }}</li>
          <li v-if="row.solved.redundant.length" class="quiet">
            Says nothing new: {{ row.solved.redundant.join(", ") }}
          </li>
        </ul>
      </template>
      <p v-else-if="row.text && unread(row.text)" class="fault">▲ {{ unread(row.text)!.message }}</p>
    </article>
    <Button v-if="job.mayEdit" @click="add">Add a chain</Button>
  </div>
</template>

<style scoped>
.strip {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 8px 10px;
  margin-bottom: 8px;
}
.line {
  display: grid;
  grid-template-columns: 66px 1fr 30px;
  gap: 6px;
  align-items: start;
}
textarea {
  font-family: "Canonis Sheet", sans-serif;
  font-size: 15px;
  resize: vertical;
}
.scale {
  position: relative;
  height: 40px;
  margin: 10px 26px 2px;
  border-top: 2px solid var(--petrol);
}
.scale span {
  position: absolute;
  display: grid;
  justify-items: center;
  transform: translateX(-50%);
  font-size: 12px;
  line-height: 14px;
  padding-top: 5px;
  border-top: 6px solid var(--petrol);
  border-image: linear-gradient(var(--petrol), var(--petrol)) 1;
  border-left: 0;
  border-right: 0;
}
.scale i {
  font-style: normal;
  color: var(--quiet);
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
</style>
