<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { onMounted, reactive, ref } from "vue";
import { useRouter } from "vue-router";
import { api, Refusal, take, type JobCard, type Schemas } from "../api/client";
import Account from "../parts/Account.vue";
import SetPanel from "../parts/SetPanel.vue";
import { useJob } from "../state";
import Choose from "../parts/Choose.vue";

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
  <main class="page list">
    <header>
      <h1>Drawing sets</h1>
      <span class="quiet">{{ store.role }}</span>
      <RouterLink v-if="store.role === 'administrator'" to="/people">People</RouterLink>
      <Account />
    </header>
    <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
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
      <RouterLink
        v-for="j in jobs.filter((x) => x.set_name === set.name)"
        :key="j.id"
        :to="`/jobs/${j.id}/sheet`"
        class="job"
      >
        <b>{{ j.number }}</b><span>{{ j.title }}</span>
        <span class="quiet">{{ j.unit === "in" ? "inch" : "mm" }} · {{ j.lines }} characteristics</span>
        <span class="quiet">{{ j.has_sheet ? "sheet drafted" : j.has_model ? "model in" : "no model yet" }}</span>
      </RouterLink>
      <p v-if="!jobs.some((x) => x.set_name === set.name)" class="quiet">No job yet; open the first one below.</p>
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
  grid-template-columns: 130px 1fr 220px 130px;
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
