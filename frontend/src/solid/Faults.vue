<script setup lang="ts">
import { Button } from "ant-design-vue";
import { computed } from "vue";
import { useJob } from "../state";
import { useSolid, type Finding } from "./store";
import Field from "../edit/Field.vue";
import Choose from "../parts/Choose.vue";

const store = useJob();
const solid = useSolid();
const limits = computed(() => solid.station?.limits);
const faults = computed(() =>
  (solid.findings ?? []).map((f, k) => ({ ...f, k })).filter((f) => f.severity !== "advice"),
);
const advice = computed(() =>
  (solid.findings ?? []).map((f, k) => ({ ...f, k })).filter((f) => f.severity === "advice"),
);
const FIELDS = [
  { key: "wall_mm", name: "thinnest wall, mm" },
  { key: "edge_diameters", name: "hole centre to edge, ⌀" },
  { key: "drill_diameters", name: "deepest drilling, ⌀" },
  { key: "thread_diameters", name: "thread length, ⌀" },
  { key: "draft_deg", name: "least draft, °" },
  { key: "wall_ratio", name: "thickest by thinnest wall" },
] as const;
const MADE = [
  { value: "machined", label: "cutting" },
  { value: "moulded", label: "moulding" },
  { value: "cast", label: "casting" },
  { value: "sheet", label: "bending sheet" },
] as const;
const MOULD = ["draft_deg", "wall_ratio"];
const fields = computed(() =>
  FIELDS.filter(
    (f) => !MOULD.includes(f.key) || limits.value?.process === "moulded" || limits.value?.process === "cast",
  ),
);
const SHAPE = { error: "▲", warning: "△", advice: "○" } as const;
function set(key: (typeof FIELDS)[number]["key"], value: string) {
  const n = Number(value.replace(",", "."));
  if (!Number.isFinite(n)) return store.say(`“${value}” is no number; the limit stays as it was.`);
  if (limits.value) void solid.patch({ limits: { ...limits.value, [key]: n } });
}
function make(value: string) {
  const process = MADE.find((m) => m.value === value)?.value;
  if (limits.value && process) void solid.patch({ limits: { ...limits.value, process } });
}
function show(f: Finding & { k: number }) {
  solid.finding = solid.finding === f.k ? null : f.k;
}
</script>

<template>
  <div>
    <p v-if="!solid.findings" class="quiet">Looking for faults …</p>
    <template v-else>
      <h4>The solid</h4>
      <p v-if="!faults.length" class="good">◆ Closed and sound; no tiny edges, slivers or doubled solids.</p>
      <Button
        type="text"
        v-for="f in faults"
        :key="f.k"
        class="bare finding"
        :class="[f.severity, { on: solid.finding === f.k }]"
        @click="show(f)"
      >
        <i>{{ SHAPE[f.severity] }}</i> {{ f.message }}
      </Button>
      <h4>Making advice</h4>
      <label class="line"
        >Made by
        <Choose
          :value="limits?.process"
          aria-label="How the part is made"
          :disabled="!store.mayEdit"
          :options="[...MADE]"
          @change="(v) => make(String(v))"
        />
      </label>
      <label v-for="f in fields" :key="f.key" class="line wide"
        >{{ f.name }}
        <Field
          :of="`${store.id}.limits.${f.key}`"
          :value="limits?.[f.key]"
          inputmode="decimal"
          :aria-label="f.name"
          :disabled="!store.mayEdit"
          @put="(t) => set(f.key, t)"
        />
      </label>
      <p v-if="!advice.length" class="quiet">Nothing to remark within these limits.</p>
      <Button
        type="text"
        v-for="f in advice"
        :key="f.k"
        class="bare finding advice"
        :class="{ on: solid.finding === f.k }"
        @click="show(f)"
      >
        <i>{{ SHAPE[f.severity] }}</i> {{ f.message }}
      </Button>
      <p class="quiet small">
        Advice only: the shop that makes the part decides. Where a part lifts, holds pressure, guards, carries people or
        rotates at speed, it is to be checked and approved by a qualified, licensed engineer under the codes that apply
        locally.
      </p>
    </template>
  </div>
</template>

<style scoped>
.finding {
  display: grid;
  grid-template-columns: 18px 1fr;
  width: 100%;
  text-align: left;
  font: inherit;
  background: none;
  border: 0;
  border-top: 1px solid #e4dfd4;
  padding: 5px 4px;
  cursor: pointer;
}
.finding:hover,
.finding.on {
  background: var(--paper);
}
.finding.on {
  box-shadow: inset 0 0 0 1px var(--halo);
}
.finding i {
  font-style: normal;
}
.error i {
  color: var(--vermilion);
}
.line {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: 6px;
  align-items: center;
  margin: 3px 0;
}
.line.wide {
  grid-template-columns: 1fr 74px;
}
.good {
  color: var(--moss);
  font-weight: 700;
}
.small {
  font-size: 12.5px;
}
h4 {
  margin: 12px 0 4px;
}
p {
  margin: 4px 0;
}
</style>
