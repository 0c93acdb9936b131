<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { Alert, Button, Input, Modal, Table, type TableColumnType } from "ant-design-vue";
import { refDebounced, useEventListener, useLocalStorage } from "@vueuse/core";
import { computed, onBeforeUnmount, onMounted, reactive, ref, watch } from "vue";
import { useRouter } from "vue-router";
import { api, Refusal, take, withFile, type JobCard } from "../api/client";
import { queries } from "../api/queries";
import Account from "../parts/Account.vue";
import Blank from "../parts/Blank.vue";
import Choose from "../parts/Choose.vue";
import FilePick from "../parts/FilePick.vue";
import SetPanel from "../parts/SetPanel.vue";
import { useJob } from "../state";
import Pips from "./jobs/Pips.vue";

const router = useRouter();
const store = useJob();
const fault = ref("");

type Sort = "number" | "title" | "set" | "changed" | "author";
const STATES = [
  { value: "all", label: "in any state" },
  { value: "empty", label: "without a model" },
  { value: "drafted", label: "with a sheet" },
  { value: "open", label: "with open points" },
] as const;
// How the list was left is how it is found again.
const view = useLocalStorage(
  "canonis.jobs",
  {
    state: "all" as (typeof STATES)[number]["value"],
    set: 0,
    person: "",
    sort: "number" as Sort,
    down: false,
    size: 50,
  },
  { mergeDefaults: true, writeDefaults: false },
);
const words = ref("");
const asked = refDebounced(words, 250);
const page = ref(1);
watch([asked, () => [view.value.state, view.value.set, view.value.person]], () => (page.value = 1));
const filter = computed(() => ({
  words: asked.value.trim(),
  state: view.value.state,
  set_id: view.value.set || undefined,
  person: view.value.person,
  sort: view.value.sort,
  down: view.value.down,
  page: page.value,
  size: view.value.size,
}));
/** Tells when something happened to a job of one's own. */
const stirs = new EventSource("/api/job-list/events");
stirs.onmessage = () => void queries.invalidateQueries({ queryKey: ["jobs"] });
stirs.addEventListener("ended", () => {
  stirs.close();
  void queries.invalidateQueries({ queryKey: ["jobs"] });
});
onBeforeUnmount(() => stirs.close());
const list = useQuery(
  {
    queryKey: computed(() => ["jobs", filter.value] as const),
    queryFn: ({ queryKey }) => take(api.GET("/api/jobs", { params: { query: queryKey[1] } })),
    placeholderData: keepPreviousData,
    staleTime: 0,
    // The stream below tells of changes; where it is cut, a look now and then.
    refetchInterval: () => (stirs.readyState === EventSource.OPEN ? false : 30_000),
  },
  queries,
);
const sets = useQuery({ queryKey: ["sets"], queryFn: () => take(api.GET("/api/sets")), staleTime: 0 }, queries);
watch([list.error, sets.error], ([a, b]) => {
  const refusal = a ?? b;
  if (refusal instanceof Refusal && refusal.status === 401) void router.replace("/sign-in");
  else fault.value = refusal?.message ?? "";
});
const byId = computed(() => new Map((list.data.value?.jobs ?? []).map((j) => [j.id, j])));
const total = computed(() => list.data.value?.total ?? 0);
const filtered = computed(
  () => !!(asked.value.trim() || view.value.set || view.value.person || view.value.state !== "all"),
);
const people = computed(() => [
  { value: "", label: "drawn by anybody" },
  ...(list.data.value?.people ?? []).map((p) => ({ value: p, label: p })),
]);
const when = (at: string) => new Date(at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
/** A set that is chosen and is not there any more hides every job. */
watch(sets.data, (all) => {
  if (all && view.value.set && !all.some((s) => s.id === view.value.set)) view.value.set = 0;
});

const order = (key: Sort) => (view.value.sort === key ? (view.value.down ? "descend" : "ascend") : null);
const columns = computed<TableColumnType<JobCard>[]>(() => [
  { key: "picture", title: "Sheet", width: 92 },
  { key: "number", title: "Number", width: 150, sorter: true, sortOrder: order("number") },
  { key: "title", title: "Title", sorter: true, sortOrder: order("title"), ellipsis: true },
  { key: "pips", title: "Stands at", width: 138 },
  { key: "changed", title: "Last change", width: 176, sorter: true, sortOrder: order("changed") },
]);
function sorted(_: unknown, __: unknown, sorter: unknown) {
  const { columnKey, order: way } = sorter as { columnKey: Sort; order?: "ascend" | "descend" };
  Object.assign(view.value, way ? { sort: columnKey, down: way === "descend" } : { sort: "number", down: false });
}

const begun = ref<{ number: string; id: number }[]>([]);
const refused = ref<string[]>([]);
const bringing = ref("");
/** Each model becomes a job; one that is none says why and stops no other. */
async function begin(files: File[]) {
  begun.value = [];
  refused.value = [];
  for (const [k, file] of files.entries()) {
    bringing.value = files.length > 1 ? `${k + 1} of ${files.length}: ${file.name}` : file.name;
    try {
      const query = { set_id: view.value.set || undefined };
      const made = await take(api.POST("/api/jobs/from-model", { params: { query }, ...withFile(file) }));
      begun.value.push(made);
    } catch (refusal) {
      refused.value.push((refusal as Error).message);
    }
  }
  bringing.value = "";
  await queries.invalidateQueries({ queryKey: ["jobs"] });
  const [only] = begun.value;
  if (only && files.length === 1) await router.push(`/jobs/${only.id}/sheet`);
}
useEventListener(window, "dragover", (event: DragEvent) => event.preventDefault());
useEventListener(window, "drop", (event: DragEvent) => {
  event.preventDefault();
  const files = [...(event.dataTransfer?.files ?? [])];
  if (files.length && store.mayEdit) void begin(files);
});

const opened = ref<number | "new" | null>(null);
const shared = computed(() => sets.data.value?.find((s) => s.id === opened.value));
async function stored() {
  opened.value = null;
  await queries.invalidateQueries({ queryKey: ["sets"] });
}
const making = ref(false);
const fresh = reactive({ number: "", title: "", unit: "mm" as "mm" | "in", material: "", set_id: 0 });
const wrong = ref("");
const first = ref<{ focus: () => void }>();
function make() {
  wrong.value = "";
  fresh.set_id = view.value.set || (sets.data.value?.[0]?.id ?? 0);
  making.value = true;
  // The dialog takes the focus for itself first.
  setTimeout(() => first.value?.focus(), 60);
}
async function create() {
  wrong.value = "";
  try {
    const { set_id, ...own } = fresh;
    const style = fresh.unit === "in" ? ("asme" as const) : ("iso" as const);
    const job = await take(api.POST("/api/jobs", { body: { ...own, style, set_id: set_id || undefined } }));
    await router.push(`/jobs/${job.id}/sheet`);
  } catch (refusal) {
    wrong.value = (refusal as Error).message;
  }
}
onMounted(() => {
  store.close();
  // Where most people go next is fetched while they look.
  void import("./Bench.vue");
});
</script>

<template>
  <div class="jobs">
    <header>
      <b class="brand">◆ Canonis</b>
      <span class="spring" />
      <RouterLink v-if="store.role === 'administrator'" to="/people">People</RouterLink>
      <Account />
    </header>
    <div class="columns">
      <nav aria-label="Drawing sets">
        <h1>Drawing sets</h1>
        <Button
          type="text"
          block
          class="bare set"
          :class="{ on: !view.set }"
          :aria-pressed="!view.set"
          @click="view.set = 0"
          >All sets</Button
        >
        <div v-for="s in sets.data.value ?? []" :key="s.id" class="one" :class="{ on: view.set === s.id }">
          <Button type="text" block class="bare set" :aria-pressed="view.set === s.id" @click="view.set = s.id">
            <h2>{{ s.name }}</h2>
          </Button>
          <p class="quiet">{{ s.general_mm }} · {{ s.general_inch }}{{ s.notes ? ` · ${s.notes}` : "" }}</p>
          <Button v-if="store.mayEdit" type="link" size="small" @click="opened = s.id">What its jobs share</Button>
        </div>
        <p v-if="sets.data.value && !sets.data.value.length" class="quiet">None yet: the first job makes one.</p>
        <Button v-if="store.mayEdit" @click="opened = 'new'">New drawing set</Button>
      </nav>
      <main>
        <Alert v-if="fault" type="error" :message="fault" role="alert" banner />
        <Alert v-for="r in refused" :key="r" type="error" :message="r" role="alert" closable banner />
        <p v-if="bringing" role="status"><i class="spin" /> Reading {{ bringing }} …</p>
        <p v-else-if="begun.length" role="status">
          Being drafted:
          <template v-for="(j, k) in begun" :key="j.id"
            >{{ k ? ", " : "" }}<RouterLink :to="`/jobs/${j.id}/sheet`">{{ j.number }}</RouterLink></template
          >
        </p>
        <div class="bar">
          <Input v-model:value="words" allow-clear placeholder="Find a job" aria-label="Find a job" />
          <Choose v-model:value="view.state" :options="[...STATES]" aria-label="State of the jobs" class="state" />
          <Choose v-model:value="view.person" :options="people" aria-label="Who drew last" class="state" />
          <span class="quiet" role="status">{{ total === 1 ? "1 job" : `${total} jobs` }}</span>
          <span class="spring" />
          <template v-if="store.mayEdit">
            <FilePick name="job-models" accept=".step,.stp" multiple @files="begin">New jobs from STEP files</FilePick>
            <Button type="primary" @click="make">New job</Button>
          </template>
        </div>
        <Table
          size="small"
          row-key="id"
          :columns="columns"
          :data-source="list.data.value?.jobs ?? []"
          :loading="list.isPending.value"
          :show-sorter-tooltip="false"
          :pagination="
            total > view.size
              ? {
                  current: page,
                  total,
                  pageSize: view.size,
                  showSizeChanger: true,
                  pageSizeOptions: ['50', '100', '200'],
                  size: 'small',
                  onChange: (at, size) => ((page = at), (view.size = size)),
                }
              : false
          "
          :custom-row="(j: JobCard) => ({ onClick: () => router.push(`/jobs/${j.id}/sheet`) })"
          @change="sorted"
        >
          <template #bodyCell="{ column, record: j }">
            <template v-if="column.key === 'picture'">
              <img
                v-if="j.sheet"
                class="picture"
                loading="lazy"
                alt=""
                :src="`/api/jobs/${j.id}/sheet/picture?version=${j.sheet}`"
              />
              <span v-else class="picture none" />
            </template>
            <RouterLink v-else-if="column.key === 'number'" :to="`/jobs/${j.id}/sheet`" class="number" @click.stop>{{
              j.number
            }}</RouterLink>
            <template v-else-if="column.key === 'title'">
              {{ j.title || "–" }}
              <div class="quiet small">
                {{ j.unit === "in" ? "inch" : "mm" }} ·
                {{ j.lines === 1 ? "1 characteristic" : `${j.lines} characteristics`
                }}<template v-if="!view.set"> · {{ j.set_name }}</template>
              </div>
            </template>
            <Pips v-else-if="column.key === 'pips'" :job="byId.get(j.id)!" />
            <template v-else-if="column.key === 'changed'">
              {{ when(j.changed) }}
              <div v-if="j.author" class="quiet small">{{ j.author }}</div>
            </template>
          </template>
          <template #emptyText>
            <Blank v-if="list.isSuccess.value">
              <template v-if="filtered"
                >No job is like that.
                <Button type="link" @click="((words = ''), Object.assign(view, { state: 'all', set: 0, person: '' }))"
                  >Show all</Button
                ></template
              >
              <template v-else-if="store.mayEdit"
                >No job yet: drop STEP files anywhere on this page, each becomes a job.</template
              >
              <template v-else>No job yet.</template></Blank
            >
          </template>
        </Table>
      </main>
    </div>
    <Modal
      :open="opened !== null"
      :title="opened === 'new' ? 'New drawing set' : 'What the jobs of this set share'"
      :footer="null"
      :width="560"
      destroy-on-close
      @cancel="opened = null"
    >
      <SetPanel :known="shared" @stored="stored" @left="opened = null" />
    </Modal>
    <Modal v-model:open="making" title="New job" :footer="null" :width="460" destroy-on-close>
      <form @submit.prevent="create">
        <label>Number<Input v-model:value="fresh.number" ref="first" name="number" :maxlength="60" required /></label>
        <label>Title<Input v-model:value="fresh.title" name="title" :maxlength="120" /></label>
        <label
          >Material<Input v-model:value="fresh.material" name="material" :maxlength="80" placeholder="e.g. brass"
        /></label>
        <label
          >Unit<Choose
            v-model:value="fresh.unit"
            aria-label="Unit"
            :options="[{ value: 'mm' }, { value: 'in', label: 'inch' }]"
        /></label>
        <label v-if="(sets.data.value ?? []).length > 1"
          >Drawing set<Choose
            v-model:value="fresh.set_id"
            aria-label="Drawing set"
            :options="(sets.data.value ?? []).map((x) => ({ value: x.id, label: x.name }))"
        /></label>
        <p v-if="wrong" role="alert" class="fault">{{ wrong }}</p>
        <Button type="primary" html-type="submit" :disabled="!fresh.number.trim()">Open job</Button>
      </form>
    </Modal>
  </div>
</template>

<style scoped>
.jobs {
  height: 100%;
  display: flex;
  flex-direction: column;
}
header {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 6px 12px;
  background: var(--panel);
  border-bottom: 1px solid var(--rule);
}
.brand {
  color: var(--petrol);
}
.spring {
  flex: 1;
}
.columns {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 236px minmax(0, 1fr);
}
nav {
  overflow: auto;
  padding: 14px 12px;
  border-right: 1px solid var(--rule);
  background: var(--panel);
}
nav h1 {
  font-size: 17px;
}
nav h2 {
  font-size: 14px;
  margin: 0;
}
.one {
  border-top: 1px solid var(--rule);
  padding-bottom: 8px;
}
.one p {
  margin: 0 6px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
.set.on,
.one.on {
  background: var(--paper);
  box-shadow: inset 3px 0 0 var(--petrol);
}
nav > .ant-btn:last-child {
  margin-top: 12px;
}
main {
  overflow: auto;
  padding: 14px 18px;
  max-width: 1320px;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-bottom: 12px;
}
.bar > :deep(.ant-input-affix-wrapper) {
  width: 220px;
}
.state {
  width: 164px;
}
.picture {
  display: block;
  width: 78px;
  height: 55px;
  object-fit: contain;
  background: var(--paper);
  border: 1px solid var(--rule);
}
.picture.none {
  border-style: dashed;
  background: none;
}
.number {
  font-weight: 700;
}
.small {
  font-size: 12px;
  overflow: hidden;
  text-overflow: ellipsis;
}
main :deep(.ant-table-row) {
  cursor: pointer;
}
main :deep(.ant-table-wrapper .ant-table) {
  background: none;
}
form {
  display: grid;
  gap: 10px;
}
form label {
  display: grid;
  gap: 3px;
}
form .ant-btn {
  justify-self: start;
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: 190px minmax(0, 1fr);
  }
}
</style>
