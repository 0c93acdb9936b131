<script setup lang="ts">
import { Button, Input, InputPassword, Popconfirm } from "ant-design-vue";
import { onMounted, reactive, ref } from "vue";
import { api, take, type Schemas } from "../api/client";
import { useJob } from "../state";
import Choose from "../parts/Choose.vue";

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
        <Choose
          :value="p.role"
          :aria-label="`Role of ${p.name}`"
          :options="roles.map((r) => ({ value: r }))"
          @change="(r) => setRole(p, String(r))"
        />
        <InputPassword
          v-model:value="secret[p.id]"
          autocomplete="new-password"
          placeholder="new password, 8 or more"
          :aria-label="`New password of ${p.name}`"
        />
        <Button :disabled="(secret[p.id] ?? '').length < 8" @click="setPassword(p)">Set password</Button>
        <Popconfirm
          :title="`Remove the account of ${p.name}? What they drew stays.`"
          ok-text="Remove"
          cancel-text="Keep"
          :disabled="p.name === store.name"
          @confirm="remove(p)"
        >
          <Button :disabled="p.name === store.name">Remove</Button>
        </Popconfirm>
      </div>
    </section>
    <form @submit.prevent="add">
      <h2>Add someone</h2>
      <div class="person">
        <Input v-model:value="fresh.name" name="person-name" placeholder="name" aria-label="Name" />
        <Choose v-model:value="fresh.role" aria-label="Role" :options="roles.map((r) => ({ value: r }))" />
        <InputPassword
          v-model:value="fresh.password"
          name="person-password"
          autocomplete="new-password"
          placeholder="password, 8 or more"
          aria-label="Password"
        />
        <Button type="primary" html-type="submit" :disabled="!fresh.name.trim() || fresh.password.length < 8"
          >Add</Button
        >
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
