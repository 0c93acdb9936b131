<script setup lang="ts">
import { Button, Input, Pagination } from "ant-design-vue";
import { computed, onMounted, reactive, ref } from "vue";
import { useRouter } from "vue-router";
import { api, Refusal, send, take, type JobCard, type Schemas } from "../api/client";
import Account from "../parts/Account.vue";
import SetPanel from "../parts/SetPanel.vue";
import { useJob } from "../state";
import Choose from "../parts/Choose.vue";
import FilePick from "../parts/FilePick.vue";

const router = useRouter();
const store = useJob();
const jobs = ref<JobCard[]>([]);
const sets = ref<Schemas["SetCard"][]>([]);
const opened = ref<number | "new" | null>(null);
const fault = ref("");
const fresh = reactive({
  number: "",
  title: "",
  unit: "mm" as "mm" | "in",
  material: "",
  set_id: undefined as number | undefined,
});
async function load() {
  [jobs.value, sets.value] = await Promise.all([take(api.GET("/api/jobs")), take(api.GET("/api/sets"))]);
  fresh.set_id ??= sets.value[0]?.id;
}
const words = ref("");
const state = ref("all");
const STATES = [
  { value: "all", label: "in any state" },
  { value: "empty", label: "without a model" },
  { value: "drafted", label: "with a sheet" },
];
const PAGE = 200;
const pages = reactive<Record<string, number>>({});
const found = computed(() => {
  const wanted = words.value.trim().toLowerCase();
  return jobs.value.filter(
    (j) =>
      (!wanted || `${j.number} ${j.title} ${j.set_name} ${j.author}`.toLowerCase().includes(wanted)) &&
      (state.value === "all" || (state.value === "empty" ? !j.has_model : j.has_sheet)),
  );
});
const inSet = (name: string) => found.value.filter((j) => j.set_name === name);
const shown = (name: string) => inSet(name).slice(((pages[name] ?? 1) - 1) * PAGE, (pages[name] ?? 1) * PAGE);
const when = (at: string) => new Date(at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
const started = ref<{ number: string; id: number }[]>([]);
const refused = ref<string[]>([]);
/** Each model becomes a job; one that is none says why and stops no other. */
async function begin(files: File[]) {
  started.value = [];
  refused.value = [];
  for (const file of files) {
    const form = new FormData();
    form.append("file", file);
    try {
      started.value.push(await take(send<Schemas["JobStarted"]>("/api/jobs/from-model", form)));
    } catch (refusal) {
      refused.value.push((refusal as Error).message);
    }
  }
  await load().catch((refusal: Error) => (fault.value = refusal.message));
  const [only] = started.value;
  if (only && files.length === 1) await router.push(`/jobs/${only.id}/sheet`);
}
function dropped(event: DragEvent) {
  const files = [...(event.dataTransfer?.files ?? [])];
  if (files.length && store.mayEdit) void begin(files);
}
async function stored() {
  opened.value = null;
  await load();
}
onMounted(async () => {
  store.close();
  try {
    await load();
  } catch (refusal) {
    if (refusal instanceof Refusal && refusal.status === 401) await router.replace("/sign-in");
    else fault.value = (refusal as Error).message;
  }
});
async function create() {
  fault.value = "";
  try {
    const body = { ...fresh, style: fresh.unit === "in" ? ("asme" as const) : ("iso" as const) };
    const job = await take(api.POST("/api/jobs", { body }));
    await router.push(`/jobs/${job.id}/source`);
  } catch (refusal) {
    fault.value = (refusal as Error).message;
  }
}
</script>

<template>
  <main class="page list" @dragover.prevent @drop.prevent="dropped">
    <header>
      <h1>Drawing sets</h1>
      <span class="quiet">{{ store.role }}</span>
      <RouterLink v-if="store.role === 'administrator'" to="/people">People</RouterLink>
      <Account />
    </header>
    <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
    <p v-for="r in refused" :key="r" role="alert" class="fault">{{ r }}</p>
    <p v-if="started.length" role="status">
      Being drafted:
      <template v-for="(j, k) in started" :key="j.id"
        >{{ k ? ", " : "" }}<RouterLink :to="`/jobs/${j.id}/sheet`">{{ j.number }}</RouterLink></template
      >
    </p>
    <div class="bar">
      <Input v-model:value="words" allow-clear placeholder="Find a job" aria-label="Find a job" />
      <Choose v-model:value="state" :options="STATES" aria-label="State of the jobs" class="state" />
      <span class="spring quiet">{{
        found.length === jobs.length ? "" : `${found.length} of ${jobs.length} jobs`
      }}</span>
      <FilePick v-if="store.mayEdit" name="job-models" accept=".step,.stp" multiple @files="begin"
        >New jobs from STEP files</FilePick
      >
    </div>
    <section v-for="set in sets" :key="set.id">
      <div class="head">
        <h2>{{ set.name }}</h2>
        <span class="quiet shared"
          >{{ set.general_mm }} · {{ set.general_inch }}{{ set.notes ? ` · ${set.notes}` : "" }}</span
        >
        <Button
          v-if="store.mayEdit"
          :aria-expanded="opened === set.id"
          @click="opened = opened === set.id ? null : set.id"
        >
          What the jobs share
        </Button>
      </div>
      <SetPanel v-if="opened === set.id" :known="set" @stored="stored" @left="opened = null" />
      <RouterLink v-for="j in shown(set.name)" :key="j.id" :to="`/jobs/${j.id}/sheet`" class="job">
        <b>{{ j.number }}</b><span>{{ j.title }}</span>
        <span class="quiet">{{ j.unit === "in" ? "inch" : "mm" }} · {{ j.lines }} characteristics</span>
        <span class="quiet">{{ j.has_sheet ? "sheet drafted" : j.has_model ? "model in" : "no model yet" }}</span>
        <span class="quiet"
          >{{ when(j.changed) }}<template v-if="j.author"> · {{ j.author }}</template></span
        >
      </RouterLink>
      <Pagination
        v-if="inSet(set.name).length > PAGE"
        :current="pages[set.name] ?? 1"
        :total="inSet(set.name).length"
        :page-size="PAGE"
        size="small"
        :show-size-changer="false"
        @change="(n) => (pages[set.name] = n)"
      />
      <p v-if="!jobs.some((x) => x.set_name === set.name)" class="quiet">
        No job yet: drop a STEP file anywhere on this page, or open one below.
      </p>
      <p v-else-if="!inSet(set.name).length" class="quiet">No job of this set is like that.</p>
    </section>
    <form v-if="store.mayEdit" @submit.prevent="create">
      <div class="head">
        <h2>New job</h2>
        <span class="shared" />
        <Button @click="opened = opened === 'new' ? null : 'new'">New drawing set</Button>
      </div>
      <SetPanel v-if="opened === 'new'" @stored="stored" @left="opened = null" />
      <div class="row">
        <label
          >Drawing set<Choose v-model:value="fresh.set_id" :options="sets.map((x) => ({ value: x.id, label: x.name }))"
        /></label>
        <label>Number<Input v-model:value="fresh.number" name="number" required /></label>
        <label>Title<Input v-model:value="fresh.title" name="title" /></label>
        <label
          >Unit<Choose v-model:value="fresh.unit" :options="[{ value: 'mm' }, { value: 'in', label: 'inch' }]"
        /></label>
        <label>Material<Input v-model:value="fresh.material" name="material" placeholder="e.g. brass" /></label>
        <Button type="primary" html-type="submit" :disabled="!fresh.number.trim()">Open job</Button>
      </div>
    </form>
  </main>
</template>

<style scoped>
.list {
  max-width: 980px;
}
.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 14px;
}
.bar > :deep(.ant-input-affix-wrapper) {
  width: 260px;
}
.state {
  width: 150px;
}
.spring {
  flex: 1;
}
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
.shared {
  flex: 1;
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.job {
  display: grid;
  grid-template-columns: 130px 1fr 170px 110px 230px;
  gap: 0 8px;
  padding: 9px 6px;
  border-top: 1px solid var(--rule);
  color: var(--ink);
  text-decoration: none;
}
.job:hover {
  background: var(--paper);
  color: var(--petrol);
}
.row {
  display: grid;
  grid-template-columns: 190px 130px 1fr 80px 140px auto;
  gap: 10px;
  align-items: end;
}
label {
  display: grid;
  gap: 3px;
}
</style>
