<script setup lang="ts">
import { computed } from "vue";
import type { JobCard } from "../../api/client";

/** How far a job is, station by station: hollow, half with the number of open points, full. */
const props = defineProps<{ job: JobCard }>();
const pips = computed(() => {
  const j = props.job;
  const full = (has: boolean) => ({ shape: has ? "●" : "○", word: has ? "there" : "nothing yet", open: 0 });
  const proof =
    j.open === null
      ? { shape: "○", word: j.has_sheet ? "not proved as it stands" : "nothing yet", open: 0 }
      : j.open
        ? { shape: "◐", word: `${j.open} open`, open: j.open }
        : { shape: "●", word: "nothing open", open: 0 };
  return [
    { name: "Source", ...full(j.lines > 0) },
    { name: "Solid", ...full(j.has_model) },
    { name: "Sheet", ...full(j.has_sheet) },
    { name: "Proof", ...proof },
  ];
});
</script>

<template>
  <ul>
    <li v-for="p in pips" :key="p.name" :title="`${p.name}: ${p.word}`" :aria-label="`${p.name}: ${p.word}`">
      <span aria-hidden="true">{{ p.shape }}</span><small v-if="p.open" aria-hidden="true">{{ p.open }}</small>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  display: flex;
  gap: 9px;
  margin: 0;
  padding: 0;
  color: var(--petrol);
}
small {
  margin-left: 2px;
  color: var(--vermilion);
}
</style>
