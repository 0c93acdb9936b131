<script setup lang="ts">
import { computed } from "vue";
import type { LedgerRow } from "./store";

const props = defineProps<{ rows: LedgerRow[]; at: number | null }>();
const emit = defineEmits<{ pick: [row: number] }>();
const W = 440;
const H = 132;
const left = 58;
const bottom = 20;
const weighed = computed(() => props.rows.some((r) => r.mass_g != null));
const found = computed(() => props.rows.map((r) => (weighed.value ? (r.mass_g ?? 0) : r.volume_mm3)));
const wanted = computed(() =>
  props.rows.map((r) => (weighed.value ? r.expected?.mass_g : r.expected?.volume_mm3) ?? null),
);
const range = computed(() => {
  const all = [...found.value, ...wanted.value.filter((v): v is number => v != null)];
  const low = Math.min(...all);
  const high = Math.max(...all);
  const room = (high - low || high || 1) * 0.08;
  return { low: low - room, high: high + room };
});
const x = (k: number) => left + ((W - left - 14) * k) / Math.max(1, props.rows.length - 1);
const y = (v: number) => 8 + (H - bottom - 12) * (1 - (v - range.value.low) / (range.value.high - range.value.low));
const line = computed(() => found.value.map((v, k) => `${x(k)},${y(v)}`).join(" "));
const ticks = computed(() => [0, 0.5, 1].map((t) => range.value.low + (range.value.high - range.value.low) * t));
const say = (v: number) => (weighed.value ? `${v.toPrecision(4)} g` : `${v.toPrecision(4)} mm³`);
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    class="chart"
    role="img"
    aria-label="Mass over the steps: found as a line, expected as diamonds"
  >
    <g v-for="t in ticks" :key="t">
      <line :x1="left - 6" :x2="W - 6" :y1="y(t)" :y2="y(t)" class="rule" />
      <text :x="left - 10" :y="y(t) + 4" text-anchor="end">{{ say(t) }}</text>
    </g>
    <polyline :points="line" class="found" />
    <g v-for="(r, k) in rows" :key="k" class="step" @click="emit('pick', k)">
      <rect :x="x(k) - 14" y="0" width="28" :height="H" fill="transparent" />
      <line v-if="at === k" :x1="x(k)" :x2="x(k)" y1="4" :y2="H - bottom" class="now" />
      <path
        v-if="wanted[k] != null"
        :d="`M${x(k)} ${y(wanted[k]!) - 6}l6 6l-6 6l-6 -6z`"
        :class="r.state === 'differs' ? 'miss' : 'goal'"
      />
      <circle :cx="x(k)" :cy="y(found[k])" r="3" />
      <text :x="x(k)" :y="H - 5" text-anchor="middle">{{ k + 1 }}</text>
    </g>
  </svg>
</template>

<style scoped>
.chart {
  width: 100%;
  background: var(--paper);
  border: 1px solid var(--rule);
}
text {
  font-size: 10px;
  fill: var(--quiet);
}
.rule {
  stroke: #e4dfd4;
}
.found {
  fill: none;
  stroke: var(--petrol);
  stroke-width: 1.6;
}
circle {
  fill: var(--petrol);
}
.goal {
  fill: none;
  stroke: var(--moss);
  stroke-width: 1.4;
}
.miss {
  fill: #7a2e6322;
  stroke: var(--plum);
  stroke-width: 1.8;
}
.now {
  stroke: var(--halo);
  stroke-dasharray: 3 3;
}
.step {
  cursor: pointer;
}
</style>
