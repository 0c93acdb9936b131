<script setup lang="ts">
import { Button, Input, Select } from "ant-design-vue";
import { onMounted, reactive, ref } from "vue";
import { useRouter } from "vue-router";
import { api, Refusal, take, type JobCard } from "../api/client";
import { useJob } from "../state";

const router = useRouter();
const store = useJob();
const jobs = ref<JobCard[]>([]);
const fault = ref("");
const fresh = reactive({ number: "", title: "", unit: "mm" as "mm" | "in", material: "" });
onMounted(async () => {
  store.close();
  try {
    jobs.value = await take(api.GET("/api/jobs"));
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
async function leave() {
  await take(api.DELETE("/api/session"));
  store.role = "";
  await router.push("/sign-in");
}
</script>

<template>
  <main class="list">
    <header>
      <h1>Drawing sets</h1>
      <span class="quiet">{{ store.name }} · {{ store.role }}</span>
      <button class="plain" @click="leave">Sign out</button>
    </header>
    <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
    <section v-for="set in [...new Set(jobs.map((j) => j.set_name))]" :key="set">
      <h2>{{ set }}</h2>
      <RouterLink
        v-for="j in jobs.filter((x) => x.set_name === set)"
        :key="j.id"
        :to="`/jobs/${j.id}/sheet`"
        class="job"
      >
        <b>{{ j.number }}</b><span>{{ j.title }}</span>
        <span class="quiet">{{ j.unit === "in" ? "inch" : "mm" }} · {{ j.lines }} characteristics</span>
        <span class="quiet">{{ j.has_sheet ? "sheet drafted" : j.has_model ? "model in" : "no model yet" }}</span>
      </RouterLink>
    </section>
    <form v-if="store.mayEdit" @submit.prevent="create">
      <h2>New job</h2>
      <div class="row">
        <label>Number<Input v-model:value="fresh.number" name="number" required /></label>
        <label>Title<Input v-model:value="fresh.title" name="title" /></label>
        <label
          >Unit<Select v-model:value="fresh.unit" :options="[{ value: 'mm' }, { value: 'in', label: 'inch' }]"
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
  margin: 0 auto;
  padding: 28px 24px;
}
header {
  display: flex;
  gap: 16px;
  align-items: baseline;
  margin-bottom: 18px;
}
header h1 {
  flex: 1;
  font-size: 24px;
}
section,
form {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 16px 18px;
  margin-bottom: 16px;
}
.job {
  display: grid;
  grid-template-columns: 130px 1fr 220px 130px;
  padding: 9px 6px;
  border-top: 1px solid var(--rule);
  color: var(--ink);
}
.job:hover {
  background: var(--paper);
  color: var(--petrol);
}
.row {
  display: grid;
  grid-template-columns: 150px 1fr 90px 170px auto;
  gap: 10px;
  align-items: end;
}
label {
  display: grid;
  gap: 3px;
}
.fault {
  color: var(--vermilion);
}
</style>
