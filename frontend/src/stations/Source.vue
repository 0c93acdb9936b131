<script setup lang="ts">
import { Button, Dropdown, Menu, MenuItem, Tooltip } from "ant-design-vue";
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { agree } from "../source/agree";
import Chains from "../source/Chains.vue";
import Checkpoints from "../source/Checkpoints.vue";
import Findings from "../source/Findings.vue";
import HouseRules from "../source/HouseRules.vue";
import LineList from "../source/LineList.vue";
import PrintPane from "../source/PrintPane.vue";
import { useSource, type Conflict, type Line } from "../source/store";
import Workings from "../source/Workings.vue";
import { useJob } from "../state";
import Splitter from "../parts/Splitter.vue";
import Leaves from "../parts/Leaves.vue";
import FilePick from "../parts/FilePick.vue";

const LEAVES = [
  { key: "lines", name: "Lines" },
  { key: "chains", name: "Chains" },
  { key: "workings", name: "Workings" },
  { key: "mass", name: "Mass" },
  { key: "rules", name: "House rules" },
  { key: "findings", name: "Findings" },
] as const;
const job = useJob();
const STORED = {
  stored: "all stored",
  storing: "storing …",
  waiting: "not stored yet",
  refused: "some edits were refused: see the marked lines",
} as const;
const source = useSource();
const leaf = ref<(typeof LEAVES)[number]["key"]>("lines");
const list = ref<InstanceType<typeof LineList>>();
const pane = ref<InstanceType<typeof PrintPane>>();
const open = ref(localStorage.getItem("canonis.print") !== "off");
const wide = ref(480);
/** Without a print the pane is only the place to bring one in. */
const width = computed(() => (source.read?.prints.length ? wide.value : 228));
watch(open, (on) => localStorage.setItem("canonis.print", on ? "on" : "off"));
watch(
  () => job.job?.id,
  () => {
    if (!job.job) return;
    source.open(job.id, job.job.source);
    // What was selected elsewhere is the line at work here.
    const line = source.lines.find((l) => `c:${l.number}` === job.selected);
    if (line) source.at = line.id;
  },
  { immediate: true },
);
watch(
  () => job.sourceVersion,
  (version) => version > (source.read?.version ?? 0) && void source.refresh(),
);
const counts = computed<Record<string, number>>(() => ({
  lines: source.lines.length,
  chains: source.read?.chains.length ?? 0,
  workings: source.read?.workings.length ?? 0,
  mass: source.read?.checkpoints.length ?? 0,
  findings: source.findings.length,
}));
function flag(line: Line) {
  source.at = line.id;
  open.value = true;
  void nextTick(() => pane.value?.place());
}
function back(line?: Line) {
  leaf.value = "lines";
  const k = source.lines.findIndex((l) => l.id === (line?.id ?? source.at));
  void nextTick(() => list.value?.focus(Math.max(0, k)));
}
function show(subject: string) {
  const k = source.lines.findIndex((l) => l.number === subject);
  if (k >= 0) {
    leaf.value = "lines";
    void nextTick(() => list.value?.focus(k));
  } else if (source.read?.chains.some((c) => c.direction === subject)) leaf.value = "chains";
  else leaf.value = /^W\d/.test(subject) ? "workings" : "rules";
}
async function tried(work: () => Promise<void>) {
  try {
    await work();
  } catch (reason) {
    source.fault = (reason as Error).message;
  }
}
const bring = (file: File) => tried(() => source.bringList(file, agree));
/** What came is taken back; what stands here now is kept in its turn. */
const takeBack = () => tried(() => source.takeBack());
function keys(event: KeyboardEvent) {
  // Alt with a digit changes the leaf, also while typing.
  const k = Number(event.key) - 1;
  if (event.altKey && LEAVES[k]) {
    leaf.value = LEAVES[k].key;
    event.preventDefault();
  }
}
/** The text of an edit that did not go through. */
const typed = (c: Conflict) =>
  c.yours && typeof c.yours === "object" && "text" in c.yours ? String(c.yours.text) : "";
const importing = ref<InstanceType<typeof FilePick>>();
onMounted(() => window.addEventListener("keydown", keys));
onBeforeUnmount(() => {
  window.removeEventListener("keydown", keys);
  void source.flush();
});
</script>

<template>
  <div class="source">
    <header>
      <h2>What the source says</h2>
      <Leaves
        :at="leaf"
        aria-label="Parts of the source"
        :leaves="LEAVES.map((l, k) => ({ ...l, count: counts[l.key], tip: `Alt ${k + 1}` }))"
        @go="(k) => (leaf = k as typeof leaf)"
      />
      <span class="spring" />
      <span class="quiet" aria-live="polite">{{ STORED[source.state] }}</span>
      <Dropdown :trigger="['click']">
        <Button>In and out</Button>
        <template #overlay>
          <Menu>
            <MenuItem v-for="k in ['csv', 'json', 'pdf']" :key="k">
              <a :href="`/api/jobs/${source.id}/source/export/${k}`">List as {{ k.toUpperCase() }}</a>
            </MenuItem>
            <MenuItem v-if="job.mayEdit" key="in" @click="importing?.open()">Bring in CSV, JSON or text</MenuItem>
          </Menu>
        </template>
      </Dropdown>
      <Tooltip v-if="source.read?.earlier && job.mayEdit" :title="`As it stood ${source.read.earlier.why}`">
        <Button @click="takeBack">Take back</Button>
      </Tooltip>
      <FilePick
        hidden
        ref="importing"
        name="source-file"
        accept=".csv,.json,.txt,.spec"
        @files="([file]) => bring(file)"
      />
      <Button :type="open ? 'primary' : 'default'" :aria-pressed="!!open" @click="open = !open">Print</Button>
    </header>
    <p v-if="source.fault" role="alert" class="fault">
      {{ source.fault }} <Button @click="source.fault = ''">Close</Button>
    </p>
    <p v-for="(c, k) in source.conflicts" :key="k" role="alert" class="conflict">
      <span
        >{{ c.message }} <template v-if="typed(c)"> You had typed “{{ typed(c) }}”.</template></span
      >
      <Button @click="source.settle(c, true)">Put mine</Button>
      <Button @click="source.settle(c, false)">Keep theirs</Button>
    </p>
    <div class="halves" :style="{ gridTemplateColumns: open ? `${width}px auto minmax(0, 1fr)` : 'minmax(0, 1fr)' }">
      <PrintPane v-if="open" ref="pane" @placed="back" @left="back()" />
      <Splitter
        v-if="open"
        v-model="wide"
        keep="print"
        label="Width of the print"
        :first="480"
        :least="220"
        :most="1100"
        pane="left"
      />
      <div class="leaf" role="tabpanel">
        <LineList v-if="leaf === 'lines'" ref="list" @flag="flag" />
        <Chains v-else-if="leaf === 'chains'" />
        <Workings v-else-if="leaf === 'workings'" />
        <Checkpoints v-else-if="leaf === 'mass'" />
        <HouseRules v-else-if="leaf === 'rules'" />
        <Findings v-else @show="show" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.source {
  height: 100%;
  display: flex;
  flex-direction: column;
  padding: 8px 12px 10px;
  min-height: 0;
}
header {
  display: flex;
  gap: 9px;
  align-items: center;
  margin-bottom: 7px;
  white-space: nowrap;
}
h2 {
  margin: 0;
  font-size: 16px;
}
.spring {
  flex: 1;
}
.halves {
  flex: 1;
  min-height: 0;
  display: grid;
  gap: 3px;
}
.leaf {
  min-width: 0;
  min-height: 0;
  overflow-y: auto;
}
.fault {
  color: var(--vermilion);
  margin: 0 0 6px;
}
.conflict {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 0 0 6px;
  padding: 5px 10px;
  background: #fbf3df;
  border: 1px solid #d9c48c;
}
.conflict span {
  flex: 1;
}
</style>
