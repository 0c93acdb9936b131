<script setup lang="ts">
import { Button } from "ant-design-vue";
import { computed } from "vue";
import { useJob } from "../state";
import { useSource, type Finding } from "./store";

const emit = defineEmits<{ show: [subject: string] }>();
const source = useSource();
const job = useJob();
const SHAPES: Record<string, string> = { error: "▼", warning: "◇", advice: "○" };
const groups = computed(() =>
  (
    [
      ["error", "Contradictions"],
      ["warning", "Doubtful"],
      ["advice", "Missing"],
    ] as const
  ).map(([severity, title]) => ({ severity, title, list: source.findings.filter((f) => f.severity === severity) })),
);
/** Lines that the sheet's proof does not use. */
const unused = computed(() =>
  (job.proof?.ledger ?? []).filter((r) => r.kind === "characteristic" && r.state === "unproven"),
);
function mend(f: Finding) {
  const line = source.lines.find((l) => l.number === f.fix!.number);
  if (line) source.edit(line, { text: f.fix!.text });
}
</script>

<template>
  <div class="findings">
    <p v-if="source.read?.readiness.length" class="ready">
      <b>Before a draft can be trusted:</b>
      <span v-for="(r, k) in source.read.readiness" :key="k">◐ {{ r }}</span>
    </p>
    <p v-else class="state-proven">● Nothing in the source speaks against drafting from it.</p>
    <template v-for="g in groups" :key="g.severity">
      <template v-if="g.list.length">
        <h3>{{ g.title }}</h3>
        <article v-for="(f, k) in g.list" :key="k">
          <span :class="{ fault: g.severity === 'error' }">{{ SHAPES[g.severity] }} {{ f.message }}</span>
          <Button class="tight" @click="emit('show', f.subject)">Show</Button>
          <Button v-if="f.fix && job.mayEdit" class="tight" @click="mend(f)">{{ f.fix.says }}</Button>
        </article>
      </template>
    </template>
    <template v-if="unused.length">
      <h3>On no sheet yet</h3>
      <article v-for="r in unused" :key="r.key">
        <span>◇ Line {{ r.number }} “{{ r.text }}”: {{ r.how }}.</span>
        <Button class="tight" @click="emit('show', r.number)">Show</Button>
      </article>
    </template>
  </div>
</template>

<style scoped>
.ready {
  display: grid;
  gap: 3px;
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 8px 12px;
}
article {
  display: flex;
  gap: 8px;
  align-items: start;
  padding: 5px 2px;
  border-bottom: 1px solid var(--rule);
}
article span {
  flex: 1;
}
h3 {
  margin: 12px 0 2px;
}
</style>
