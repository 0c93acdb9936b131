<script setup lang="ts">
import { Button, Skeleton, Table, type TableColumnType } from "ant-design-vue";
import { useEventListener } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { api, take } from "../api/client";
import { STATES, type Finding, type LedgerRow } from "../board/types";
import { useJob } from "../state";
import Levels from "./proof/Levels.vue";
import ReadThrough from "./proof/ReadThrough.vue";
import Blank from "../parts/Blank.vue";
import Press from "../parts/Press.vue";
import Choose from "../parts/Choose.vue";

const emit = defineEmits<{ bring: [] }>();
const store = useJob();
const groups = computed(() => {
  const all = [...(store.proof?.findings ?? []), ...more.value].filter((f) => !f.under);
  const of = (f: (x: Finding) => boolean) => all.filter(f);
  const source = (x: Finding) =>
    x.rule.endsWith(".source") || x.rule.startsWith("mass") || x.rule === "source.no-place";
  return [
    {
      title: "The model differs from the source",
      mark: "▼",
      cls: "state-differs",
      items: of((x) => source(x) && x.severity === "error"),
    },
    {
      title: "The sheet differs from the model",
      mark: "▲",
      cls: "state-differs-model",
      items: of((x) => x.severity === "error" && !source(x)),
    },
    { title: "To complete", mark: "◇", cls: "state-unproven", items: of((x) => x.severity === "warning") },
    { title: "To know", mark: "○", cls: "quiet", items: of((x) => x.severity === "advice") },
  ].filter((g) => g.items.length);
});
const lines = computed(() => store.proof?.ledger.filter((r) => r.kind === "characteristic") ?? []);
const unplaced = computed(() => lines.value.filter((r) => r.state === "no-place"));
const statements = computed(() => store.proof?.ledger.filter((r) => r.kind === "statement") ?? []);
/** What follows from a finding, listed under it. */
const following = computed(() => {
  const out = new Map<string, Finding[]>();
  for (const f of [...(store.proof?.findings ?? []), ...more.value])
    if (f.under) out.set(f.under, [...(out.get(f.under) ?? []), f]);
  return out;
});
function go(f: Finding) {
  store.selected = f.subject.startsWith("#")
    ? `c:${f.subject.slice(1)}`
    : ["mass", "centre"].includes(f.subject)
      ? f.subject
      : `s:${f.subject}`;
}
const links = computed(() => [
  { value: "auto", label: "by the program" },
  { value: "none", label: "unlinked" },
  ...statements.value.map((s) => ({ value: s.key.slice(2), label: `${s.number} ${s.text}` })),
]);
const { linked } = store;
/** Whether the source is read through line by line just now. */
const reading = ref(false);
const ticked = computed(() => lines.value.filter((r) => r.ticked).length);
useEventListener("keydown", (event: KeyboardEvent) => {
  const on = event.target as HTMLElement;
  if (
    on.closest("input, textarea, [contenteditable], .ant-modal, .ant-select") ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey
  )
    return;
  if (event.key.toLowerCase() === "r" && lines.value.length && !reading.value) {
    event.preventDefault();
    reading.value = true;
  }
});
/** A place that a person chose stands among the links by its words. */
const linksOf = (r: LedgerRow) => {
  const now = linked(r.number);
  return now.startsWith("[") ? [...links.value, { value: now, label: r.measure || "a chosen place" }] : links.value;
};
/** Findings beyond the first ones, asked for when somebody wants them. */
const more = ref<Finding[]>([]);
watch(
  () => store.proof?.version,
  () => (more.value = []),
);
async function rest() {
  const query = { start: (store.proof?.findings.length ?? 0) + more.value.length };
  const params = { path: { job_id: store.id }, query };
  const got = await store.guard(() => take(api.GET("/api/jobs/{job_id}/proof/findings", { params })));
  if (got) more.value = [...more.value, ...got.findings];
}
const left = computed(() => (store.proof?.findings_more ?? 0) - more.value.length);
const worst = ["differs", "no-place", "ambiguous", "unread", "not-drawn", "proven", "reference"];
const columns = computed<TableColumnType<LedgerRow>[]>(() => [
  {
    key: "state",
    title: "",
    width: 44,
    sorter: (a, b) => worst.indexOf(a.state) - worst.indexOf(b.state),
    filters: [...new Set(lines.value.map((r) => r.state))].map((s) => ({ text: STATES[s]?.word ?? s, value: s })),
    onFilter: (value, r) => r.state === value,
  },
  {
    key: "source",
    title: "Source",
    sorter: (a, b) => a.number.localeCompare(b.number, undefined, { numeric: true }),
  },
  { key: "how", title: "Implied by, and place in the part" },
  { key: "model", title: "Model", width: 90 },
  {
    key: "off",
    title: "Off by",
    width: 84,
    sorter: (a, b) => Math.abs(parseFloat(a.difference ?? "0")) - Math.abs(parseFloat(b.difference ?? "0")),
  },
  { key: "link", title: "Linked to", width: 176 },
]);
</script>

<template>
  <ReadThrough v-if="store.proof && reading && lines.length" @close="reading = false" />
  <div v-else-if="store.proof" class="proof" :class="{ outdated: !store.current }">
    <section class="sum">
      <p class="big">
        <b class="state-proven">◆ {{ store.proof.summary.proven }} proven</b>
        <b class="state-unproven">◇ {{ store.proof.summary.unproven }} not yet</b>
        <b class="state-differs-model">▲ {{ store.proof.summary.contradicted }} contradicted</b>
        <span v-if="store.proving || !store.current" class="quiet" role="status">proving again …</span>
      </p>
      <p>
        {{
          store.proof.complete.ok
            ? "The sheet fixes every level and size of the part, each once."
            : "The sheet leaves something open or says it twice; see below."
        }}
      </p>
      <p v-if="lines.length">
        <Press press="R" primary @press="reading = true">Read the source through</Press>
        <span class="quiet tick tab"> {{ ticked }} of {{ lines.length }} lines ticked by a person</span>
        <span v-if="!store.proof.asked" class="quiet" role="status">
          · looking for other places that they could mean …</span
        >
      </p>
      <p class="quiet">
        Each statement is read back from its text and measured again in the file by another route than the one that
        wrote it. This compares; it does not certify.
      </p>
    </section>
    <section v-if="!groups.length" class="none">
      <h2>Nothing differs. ◆</h2>
      <p class="quiet">
        Every statement was measured again and agrees. Look at the page itself too, then take the files.
      </p>
      <RouterLink :to="`/jobs/${store.id}/release`"><Button>To the files</Button></RouterLink>
    </section>
    <p v-if="left > 0">
      <Button @click="rest">Show more findings ({{ left }} left)</Button>
    </p>
    <section v-for="g in groups" :key="g.title">
      <h2 :class="g.cls">
        {{ g.mark }} {{ g.title }} <span class="tab">({{ g.items.length }})</span>
      </h2>
      <template v-for="f in g.items" :key="f.id">
        <Button type="text" class="bare finding" @click="go(f)">{{ f.message }}</Button>
        <details v-if="following.has(f.id)" class="following">
          <summary class="quiet">{{ following.get(f.id)?.length }} more follow from this</summary>
          <Button type="text" v-for="c in following.get(f.id)" :key="c.id" class="bare finding" @click="go(c)">{{
            c.message
          }}</Button>
        </details>
      </template>
    </section>
    <details v-if="store.proof.drawn_level?.length" class="level">
      <summary>
        {{ store.proof.drawn_level.length === 1 ? "One place is" : `${store.proof.drawn_level.length} places are` }}
        only drawn level, not said
      </summary>
      <p class="quiet">
        The sheet is complete only if these are read as lying at one level. State them where that could be misread.
      </p>
      <ul>
        <li v-for="w in store.proof.drawn_level" :key="w">{{ w }}</li>
      </ul>
    </details>
    <details v-if="store.proof.withdrawn?.length" class="level">
      <summary>
        {{
          store.proof.withdrawn.length === 1 ? "One statement was" : `${store.proof.withdrawn.length} statements were`
        }}
        withdrawn from the draft
      </summary>
      <p class="quiet">
        They were planned, and measuring them again did not bear them out: none of them is on paper. What they would
        have said is stated in another way, or named above as open.
      </p>
      <ul>
        <li v-for="w in store.proof.withdrawn" :key="w.text + w.refs.join()">
          <span class="sheet">{{ w.text }}</span> <span class="quiet">{{ w.why }}</span>
        </li>
      </ul>
    </details>
    <Levels v-if="store.proof.ladders?.length" :ladders="store.proof.ladders" />
    <section v-if="unplaced.length || store.proof.unexplained.length" class="both">
      <div v-if="unplaced.length">
        <h2>Lines without a place in the model</h2>
        <Button v-for="r in unplaced" :key="r.key" type="text" class="bare finding" @click="store.selected = r.key">
          <span class="state-no-place">▽</span>&nbsp;#{{ r.number }}&nbsp;<span class="sheet">{{ r.text }}</span>
        </Button>
      </div>
      <div v-if="store.proof.unexplained.length">
        <h2>Sizes of the model that no line says</h2>
        <p v-for="u in store.proof.unexplained" :key="u.measure" class="finding">{{ u.measure }}</p>
      </div>
    </section>
    <section v-if="lines.length">
      <h2>Source against sheet and model</h2>
      <Table
        size="small"
        row-key="key"
        :columns="columns"
        :data-source="lines"
        :show-sorter-tooltip="false"
        :pagination="lines.length > 100 ? { pageSize: 100, size: 'small', showSizeChanger: false } : false"
        :custom-row="
          (r: LedgerRow) => ({ onClick: () => (store.selected = r.key), class: { on: r.key === store.selected } })
        "
      >
        <template #bodyCell="{ column, record: r }">
          <span
            v-if="column.key === 'state'"
            :class="`state-${r.state}`"
            role="img"
            :aria-label="STATES[r.state]?.word"
            :title="STATES[r.state]?.word"
            >{{ STATES[r.state]?.mark }}{{ r.ticked ? "•" : "" }}</span
          >
          <span v-else-if="column.key === 'source'" class="sheet"
            ><i>#{{ r.number }}</i> {{ r.text }}</span
          >
          <span v-else-if="column.key === 'how'"
            ><span class="sheet">{{ r.statements.length ? r.how : "" }}</span>
            <span class="quiet small place">{{ r.measure || r.reason }}</span></span
          >
          <span v-else-if="column.key === 'model'" class="tab">{{ r.model_text ?? "–" }}</span>
          <span v-else-if="column.key === 'off'" class="tab">{{ r.difference ?? "" }}</span>
          <Choose
            v-else-if="column.key === 'link'"
            :value="linked(r.number)"
            :disabled="!store.mayEdit"
            :aria-label="`Link of ${r.number}`"
            search
            :options="linksOf(r as LedgerRow)"
            @click.stop
            @change="(v) => store.link(r.number, String(v))"
          />
        </template>
      </Table>
    </section>
  </div>
  <div v-else class="empty">
    <Skeleton v-if="store.proving" active :paragraph="{ rows: 8 }" />
    <Blank v-else>
      <h2>Nothing to prove yet</h2>
      <p>As soon as a sheet is drafted every statement on it is proved here.</p>
      <Button v-if="store.mayEdit" type="primary" @click="emit('bring')">Bring in a model</Button>
    </Blank>
  </div>
</template>

<style scoped>
/* The words of a place stand off the figure before them. */
.place {
  margin-left: 8px;
}
.proof {
  height: 100%;
  overflow: auto;
  padding: 14px 18px;
}
section {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 12px 14px;
  margin-bottom: 12px;
}
.sum p {
  margin: 0 0 4px;
}
.big {
  display: flex;
  gap: 22px;
  font-size: 17px;
}
.finding {
  display: block;
  width: 100%;
  text-align: left;
  font: inherit;
  background: none;
  border: 0;
  border-top: 1px solid #e4dfd4;
  padding: 5px 4px;
  cursor: pointer;
}
.finding:hover {
  background: var(--paper);
}
.following {
  margin-left: 22px;
}
.following summary {
  cursor: pointer;
  padding: 2px 4px;
}
.level {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 10px 14px;
  margin-bottom: 12px;
}
.level summary {
  cursor: pointer;
}
.level p,
.level ul {
  margin: 4px 0 0;
}
.sheet {
  font-family: "Canonis Sheet", sans-serif;
}
.small {
  font-size: 12px;
}
.both {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 18px;
}
.both p {
  margin: 0;
  cursor: default;
}
.tick {
  margin-left: 10px;
}
.sheet i {
  font-style: normal;
  color: var(--quiet);
  font-size: 12px;
}
.proof :deep(.ant-table-row) {
  cursor: pointer;
}
.proof :deep(.ant-table-row.on > td) {
  background: var(--paper);
  box-shadow:
    inset 0 1px var(--halo),
    inset 0 -1px var(--halo);
}
.none h2 {
  color: var(--moss);
  margin: 0 0 4px;
}
.none p {
  margin: 0 0 8px;
}
.empty {
  height: 100%;
  display: grid;
  place-content: center;
  text-align: center;
}
</style>
