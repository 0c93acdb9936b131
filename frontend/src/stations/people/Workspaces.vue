<script setup lang="ts">
/** Workspaces keep customers apart; each has its house rules, which its jobs follow where they say nothing else. */
import { useQuery } from "@tanstack/vue-query";
import { Alert, Button, Input } from "ant-design-vue";
import { ref } from "vue";
import { api, take, type Schemas } from "../../api/client";
import { queries } from "../../api/queries";
import Field from "../../edit/Field.vue";
import Choose from "../../parts/Choose.vue";

type Place = Schemas["WorkspaceCard"];
defineProps<{ places: Place[] }>();
const rules = useQuery({ queryKey: ["house-rules"], queryFn: () => take(api.GET("/api/house-rules")) }, queries);
const fault = ref("");
const fresh = ref("");
async function act(work: () => Promise<Place[]>) {
  fault.value = "";
  try {
    queries.setQueryData(["workspaces"], await work());
    await queries.invalidateQueries({ queryKey: ["job"] });
  } catch (refusal) {
    fault.value = (refusal as Error).message;
  }
}
function put(place: Place, more: Partial<Place>) {
  const { id, ...body } = { ...place, ...more };
  const params = { path: { workspace_id: id } };
  void act(() => take(api.PUT("/api/workspaces/{workspace_id}", { params, body })));
}
async function add() {
  const body = { name: fresh.value, rules: {} };
  await act(() => take(api.POST("/api/workspaces", { body })));
  if (!fault.value) fresh.value = "";
}
</script>

<template>
  <section class="places">
    <h2>Workspaces and their house rules</h2>
    <p class="quiet">
      What is in a workspace is seen only by those who work in it. Its jobs follow its rules unless they say otherwise
      themselves.
    </p>
    <Alert v-if="fault" type="error" :message="fault" role="alert" banner />
    <article v-for="w in places" :key="w.id">
      <Field
        :of="`workspace.${w.id}`"
        :value="w.name"
        :aria-label="`Name of the workspace ${w.name}`"
        class="name"
        @put="(name) => put(w, { name })"
      />
      <div class="rules">
        <label v-for="c in rules.data.value ?? []" :key="c.key"
          ><span>{{ c.title }}</span
          ><Choose
            :value="w.rules[c.key] || c.options[0].value"
            :aria-label="`${c.title}, ${w.name}`"
            :options="c.options.map((o) => ({ value: o.value, label: o.says }))"
            @change="(v) => put(w, { rules: { ...w.rules, [c.key]: String(v) } })"
        /></label>
      </div>
    </article>
    <form @submit.prevent="add">
      <Input
        v-model:value="fresh"
        name="workspace-name"
        :maxlength="120"
        placeholder="name of a new workspace"
        aria-label="Name of a new workspace"
      />
      <Button html-type="submit" :disabled="!fresh.trim()">Add workspace</Button>
    </form>
  </section>
</template>

<style scoped>
article {
  border-top: 1px solid var(--rule);
  padding: 10px 0 12px;
}
article > :deep(.name) {
  width: 320px;
  font-weight: 700;
}
.rules {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px 16px;
  margin-top: 8px;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--quiet);
}
form {
  display: flex;
  gap: 8px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
form :deep(input) {
  width: 320px;
}
</style>
