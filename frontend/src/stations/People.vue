<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { Alert, Button, Input, InputPassword, Popconfirm } from "ant-design-vue";
import { computed, reactive, ref } from "vue";
import { api, take, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import Account from "../parts/Account.vue";
import Choose from "../parts/Choose.vue";
import ChooseMany from "../parts/ChooseMany.vue";
import { useJob } from "../state";
import Workspaces from "./people/Workspaces.vue";

type Person = Schemas["Person"];
const store = useJob();
const people = useQuery({ queryKey: ["people"], queryFn: () => take(api.GET("/api/people")), staleTime: 0 }, queries);
const places = useQuery(
  { queryKey: ["workspaces"], queryFn: () => take(api.GET("/api/workspaces")), staleTime: 0 },
  queries,
);
const options = computed(() => (places.data.value ?? []).map((w) => ({ value: w.id, label: w.name })));
const fault = ref("");
const said = ref("");
const secret = reactive<Record<number, string>>({});
const ROLES = ["drafter", "checker", "viewer", "administrator"] as const;
const fresh = reactive({ name: "", password: "", role: "drafter" as Person["role"] });

async function act(work: () => Promise<Person[]>, done = "") {
  fault.value = said.value = "";
  try {
    queries.setQueryData(["people"], await work());
    said.value = done;
  } catch (refusal) {
    fault.value = (refusal as Error).message;
    // What was chosen and refused goes back to what is stored.
    await queries.invalidateQueries({ queryKey: ["people"] });
  }
}
const path = (p: Person) => ({ params: { path: { person_id: p.id } } });
function change(p: Person, body: Schemas["PersonPatch"], done: string) {
  return act(() => take(api.PATCH("/api/people/{person_id}", { ...path(p), body })), done);
}
function setRole(p: Person, role: string) {
  void change(p, { role: ROLES.find((r) => r === role) }, `${p.name} is now ${role}.`);
}
function setPassword(p: Person) {
  const password = secret[p.id];
  secret[p.id] = "";
  void change(p, { password }, `${p.name} has a new password and must sign in again.`);
}
function remove(p: Person) {
  void act(() => take(api.DELETE("/api/people/{person_id}", path(p))), `${p.name} is removed.`);
}
async function add() {
  await act(() => take(api.POST("/api/people", { body: { ...fresh } })), `${fresh.name} may now sign in.`);
  if (!fault.value) Object.assign(fresh, { name: "", password: "" });
}
</script>

<template>
  <div class="house">
    <header>
      <RouterLink to="/" class="brand">◆ Canonis</RouterLink>
      <h1>People</h1>
      <span class="spring" />
      <RouterLink to="/">Drawing sets</RouterLink>
      <Account />
    </header>
    <main>
      <Alert v-if="fault" type="error" :message="fault" role="alert" banner />
      <p v-if="said" role="status">{{ said }}</p>
      <section>
        <div class="person quiet cap" aria-hidden="true">
          <span>Name</span><span>Role</span><span>Works in</span><span>New password</span>
        </div>
        <div v-for="p in people.data.value ?? []" :key="p.id" class="person">
          <b>{{ p.name }}</b>
          <Choose
            :value="p.role"
            :aria-label="`Role of ${p.name}`"
            :options="ROLES.map((r) => ({ value: r }))"
            @change="(r) => setRole(p, String(r))"
          />
          <ChooseMany
            :value="p.workspaces"
            :label="`Workspaces of ${p.name}`"
            :options="options"
            @change="(workspaces) => change(p, { workspaces }, `${p.name} works in other workspaces now.`)"
          />
          <InputPassword
            v-model:value="secret[p.id]"
            autocomplete="new-password"
            placeholder="8 characters or more"
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
          <Input v-model:value="fresh.name" name="person-name" :maxlength="80" placeholder="name" aria-label="Name" />
          <Choose v-model:value="fresh.role" aria-label="Role" :options="ROLES.map((r) => ({ value: r }))" />
          <span class="quiet">your own workspaces</span>
          <InputPassword
            v-model:value="fresh.password"
            name="person-password"
            autocomplete="new-password"
            placeholder="8 characters or more"
            aria-label="Password"
          />
          <Button type="primary" html-type="submit" :disabled="!fresh.name.trim() || fresh.password.length < 8"
            >Add</Button
          >
        </div>
        <p class="quiet">
          A drafter draws, a checker remarks and judges, a viewer looks, an administrator keeps people and house rules.
          Nobody approves a sheet of their own.
        </p>
      </form>
      <Workspaces :places="places.data.value ?? []" />
    </main>
  </div>
</template>

<style scoped>
.house {
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
header h1 {
  font-size: 16px;
  margin: 0;
}
.brand {
  text-decoration: none;
  font-weight: 700;
}
.spring {
  flex: 1;
}
main {
  overflow: auto;
  padding: 14px 18px;
}
main > * {
  max-width: 1040px;
}
.person {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) 130px minmax(150px, 1.2fr) 190px 110px 86px;
  gap: 8px;
  align-items: center;
  padding: 4px 0;
}
.cap {
  font-size: 12px;
}
form {
  margin: 18px 0;
}
</style>
