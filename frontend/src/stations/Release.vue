<script setup lang="ts">
import { useJob } from "../state";

const store = useJob();
const files = [
  { kind: "pdf", name: "PDF", why: "all sheets, vector, true size, lettering embedded" },
  { kind: "svg", name: "SVG", why: "sheet 1 as a picture for other programs" },
  { kind: "csv", name: "CSV", why: "every statement with its measured value and state" },
  { kind: "json", name: "JSON", why: "the sheet document, for checks on the command line" },
];
const told = (command: unknown) => {
  const c = command as Record<string, unknown>;
  return [c.op, c.what, c.id].filter(Boolean).join(" ");
};
</script>

<template>
  <div class="release">
    <section>
      <h2>Files of this sheet</h2>
      <p v-if="!store.sheet" class="quiet">There is no sheet yet.</p>
      <a
        v-for="f in store.sheet ? files : []"
        :key="f.kind"
        class="file"
        :href="`/api/jobs/${store.id}/export/${f.kind}`"
        :download="`${store.job?.number}.${f.kind}`"
      >
        <b>{{ f.name }}</b><span>{{ f.why }}</span>
      </a>
    </section>
    <section>
      <h2>Before it leaves the house</h2>
      <p>
        To be checked and approved by a qualified, licensed engineer under the codes that apply locally, above all where
        the part lifts, holds pressure, guards, carries people or turns at speed.
      </p>
      <p>
        Sharp edges, hardened or ground surfaces and threads in walls need the usual shop cautions. General tolerance
        tables: confirm with the contract.
      </p>
      <p v-if="store.proof" class="quiet">
        Proof of this version: {{ store.proof.summary.proven }} proven, {{ store.proof.summary.unproven }} not yet
        proven, {{ store.proof.summary.contradicted }} contradicted; {{ store.proof.findings.length }} findings.
      </p>
    </section>
    <section>
      <h2>Who did what</h2>
      <p v-for="m in store.job?.models" :key="m.id" class="log">
        <span class="tab quiet">{{ new Date(m.created).toLocaleString() }}</span><span
          >model {{ m.name }} · {{ m.sha256.slice(0, 10) }} · {{ m.state }}{{ m.error ? `: ${m.error}` : "" }}</span
        >
      </p>
      <p v-for="v in store.sheet?.log" :key="v.id as number" class="log">
        <span class="tab quiet">{{ new Date(v.at as string).toLocaleString() }}</span><span
          >{{ v.author }}: {{ told(v.command) }} (version {{ v.id
          }}{{ v.id === store.sheet?.version ? ", present" : "" }})</span
        >
      </p>
    </section>
  </div>
</template>

<style scoped>
.release {
  height: 100%;
  overflow: auto;
  padding: 14px 18px;
}
section {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 12px 14px;
  margin-bottom: 12px;
  max-width: 820px;
}
.file {
  display: grid;
  grid-template-columns: 70px 1fr;
  padding: 7px 6px;
  border-top: 1px solid var(--rule);
  color: var(--ink);
}
.file b {
  color: var(--petrol);
}
.file:hover {
  background: var(--paper);
}
.log {
  display: grid;
  grid-template-columns: 190px 1fr;
  margin: 0;
  padding: 2px 0;
}
</style>
