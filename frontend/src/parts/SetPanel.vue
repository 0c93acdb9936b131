<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { Button, Input } from "ant-design-vue";
import { reactive, ref } from "vue";
import { api, take, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import Choose from "./Choose.vue";

const props = defineProps<{ known?: Schemas["SetCard"] }>();
const emit = defineEmits<{ stored: []; left: [] }>();
const body = reactive({
  name: props.known?.name ?? "",
  owner: props.known?.owner ?? "",
  general_mm: props.known?.general_mm ?? "ISO 2768-m",
  general_inch: props.known?.general_inch ?? ".XX ±.02  .XXX ±.010",
  notes: props.known?.notes ?? "",
});
const places = useQuery({ queryKey: ["workspaces"], queryFn: () => take(api.GET("/api/workspaces")) }, queries);
const place = ref<number>();
const fault = ref("");
async function store() {
  fault.value = "";
  try {
    if (props.known)
      await take(api.PUT("/api/sets/{set_id}", { params: { path: { set_id: props.known.id } }, body: { ...body } }));
    else await take(api.POST("/api/sets", { body: { ...body, workspace_id: place.value } }));
    emit("stored");
  } catch (refusal) {
    fault.value = (refusal as Error).message;
  }
}
</script>

<template>
  <div class="set" role="group" aria-label="What the jobs of this set share" @keydown.esc="emit('left')">
    <label>Name of the set<Input v-model:value="body.name" name="set-name" /></label>
    <label v-if="!known && (places.data.value ?? []).length > 1"
      >Workspace<Choose
        v-model:value="place"
        aria-label="Workspace"
        :options="(places.data.value ?? []).map((w) => ({ value: w.id, label: w.name }))"
    /></label>
    <label>Owner, for the title block<Input v-model:value="body.owner" name="set-owner" /></label>
    <label>General tolerances of metric jobs<Input v-model:value="body.general_mm" name="set-mm" /></label>
    <label>General tolerances of inch jobs<Input v-model:value="body.general_inch" name="set-inch" /></label>
    <label class="wide"
      >Notes on every sheet, parted by semicolons<Input
        v-model:value="body.notes"
        name="set-notes"
        placeholder="break edges 0.3; treat after machining"
    /></label>
    <p class="wide quiet">Tables of tolerances are named on the sheet; confirm them with the contract.</p>
    <p v-if="fault" role="alert" class="wide fault">{{ fault }}</p>
    <span class="wide"
      ><Button type="primary" :disabled="!body.name.trim()" @click="store">Store</Button>
      <Button @click="emit('left')">Leave as it was</Button></span
    >
  </div>
</template>

<style scoped>
.set {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 14px;
  background: var(--paper);
  border: 1px solid var(--rule);
  padding: 12px 14px;
  margin: 8px 0;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--quiet);
}
input {
  color: var(--ink);
}
.wide {
  grid-column: 1 / -1;
  margin: 0;
}
.wide button {
  margin-right: 8px;
}
</style>
