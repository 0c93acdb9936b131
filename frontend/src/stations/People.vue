<script setup lang="ts">
import { onMounted, reactive, ref } from "vue";
import { api, take, type Schemas } from "../api/client";
import { useJob } from "../state";

type Person = Schemas["Person"];
const store = useJob();
const people = ref<Person[]>([]);
const fault = ref("");
const said = ref("");
const secret = reactive<Record<number, string>>({});
const fresh = reactive({ name: "", password: "", role: "drafter" as Person["role"] });
const roles = ["drafter", "checker", "viewer", "administrator"] as const;

async function act(work: () => Promise<Person[]>, done = "") {
  fault.value = said.value = "";
  try {
    people.value = await work();
    said.value = done;
  } catch (refusal) {
    fault.value = (refusal as Error).message;
    people.value = [...people.value];
  }
}
const path = (p: Person) => ({ params: { path: { person_id: p.id } } });
function setRole(p: Person, role: string) {
  const body = { role: role as Person["role"] };
  void act(() => take(api.PATCH("/api/people/{person_id}", { ...path(p), body })), `${p.name} is now ${role}.`);
}
function setPassword(p: Person) {
  const body = { password: secret[p.id] };
  secret[p.id] = "";
  void act(
    () => take(api.PATCH("/api/people/{person_id}", { ...path(p), body })),
    `${p.name} has a new password and must sign in again.`,
  );
}
function remove(p: Person) {
  if (!window.confirm(`Remove the account of ${p.name}? What they drew stays.`)) return;
  void act(() => take(api.DELETE("/api/people/{person_id}", path(p))), `${p.name} is removed.`);
}
async function add() {
  await act(() => take(api.POST("/api/people", { body: { ...fresh } })), `${fresh.name} may now sign in.`);
  if (!fault.value) Object.assign(fresh, { name: "", password: "" });
}
onMounted(() => act(() => take(api.GET("/api/people"))));
</script>

<template>
  <main class="page people">
    <header>
      <h1>People</h1>
      <span class="quiet">{{ store.name }} · {{ store.role }}</span>
      <RouterLink to="/">Drawing sets</RouterLink>
    </header>
    <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
    <p v-if="said" role="status">{{ said }}</p>
    <section>
      <div v-for="p in people" :key="p.id" class="person">
        <b>{{ p.name }}</b>
        <select
          :value="p.role"
          :aria-label="`Role of ${p.name}`"
          @change="setRole(p, ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="r in roles" :key="r">{{ r }}</option>
        </select>
        <input
          v-model="secret[p.id]"
          type="password"
          autocomplete="new-password"
          placeholder="new password, 8 or more"
          :aria-label="`New password of ${p.name}`"
        />
        <button class="plain" :disabled="(secret[p.id] ?? '').length < 8" @click="setPassword(p)">Set password</button>
        <button class="plain" :disabled="p.name === store.name" @click="remove(p)">Remove</button>
      </div>
    </section>
    <form @submit.prevent="add">
      <h2>Add someone</h2>
      <div class="person">
        <input v-model="fresh.name" name="person-name" placeholder="name" aria-label="Name" />
        <select v-model="fresh.role" aria-label="Role">
          <option v-for="r in roles" :key="r">{{ r }}</option>
        </select>
        <input
          v-model="fresh.password"
          name="person-password"
          type="password"
          autocomplete="new-password"
          placeholder="password, 8 or more"
          aria-label="Password"
        />
        <button class="plain main" :disabled="!fresh.name.trim() || fresh.password.length < 8">Add</button>
      </div>
      <p class="quiet">
        A drafter draws, a checker judges and signs, a viewer looks. Nobody approves a sheet of their own.
      </p>
    </form>
  </main>
</template>

<style scoped>
.people {
  max-width: 860px;
}
.person {
  display: grid;
  grid-template-columns: 1fr 140px 220px 120px 90px;
  gap: 8px;
  align-items: center;
  padding: 5px 0;
}
</style>
