<script setup lang="ts">
import { Button, InputNumber } from "ant-design-vue";
import { computed, ref, watch } from "vue";
import { api, take, type Schemas } from "../api/client";
import Choose from "../parts/Choose.vue";
import { useJob } from "../state";
import PrintPreview from "./sheet/PrintPreview.vue";

type Version = Schemas["VersionCard"];
const store = useJob();
const files = [
  { kind: "pdf", name: "PDF", why: "all sheets, vector, true size, lettering embedded" },
  { kind: "svg", name: "SVG", why: "one sheet in named layers, true size, for other programs", each: true },
  { kind: "png", name: "PNG", why: "one sheet as a picture", each: true },
  { kind: "csv", name: "CSV", why: "every statement with its measured value and state" },
  { kind: "json", name: "JSON", why: "the sheet document, for checks on the command line" },
];
/** Which sheet the files of one sheet show, and how fine a picture is. */
const sheet = ref(1);
const dpi = ref(200);
const printing = ref(false);
const link = (f: { kind: string; each?: boolean }) =>
  `/api/jobs/${store.id}/export/${f.kind}${f.each ? `?sheet=${sheet.value}&dpi=${dpi.value}` : ""}`;
const told = (command: Version["command"]) =>
  [command.op, command.what, command.id].filter((w) => typeof w === "string").join(" ");
const when = (at: string) => new Date(at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "medium" });
/** Versions older than those that come with the sheet. */
const older = ref<Version[]>([]);
const more = ref(true);
watch(
  () => store.sheet?.version,
  () => ((older.value = []), (more.value = true)),
);
const log = computed(() => [...(store.sheet?.log ?? []), ...older.value]);
const RULES: Record<string, string> = {
  all: "This house asks for all three",
  one: "This house asks for any one of the three",
};
const PARTS: Record<string, string> = {
  statements: "Statements",
  mass: "Mass",
  look: "A look at the page",
};
const mayLook = computed(() => store.mayRemark && store.proof?.version === store.sheet?.version);
/** Somebody's word that every page of this version was looked at; it falls with the next change of the sheet. */
async function look() {
  const version = store.sheet?.version;
  if (!version) return;
  await store.guard(() =>
    take(api.PUT("/api/jobs/{job_id}/look", { params: { path: { job_id: store.id } }, body: { version } })),
  );
  await store.stale("proof");
}
async function back() {
  const last = log.value.at(-1);
  if (!last) return;
  const params = { path: { job_id: store.id }, query: { before: last.id } };
  const got = await store.guard(() => take(api.GET("/api/jobs/{job_id}/sheet/versions", { params })));
  if (!got) return;
  older.value = [...older.value, ...got.versions];
  more.value = got.more;
}
</script>

<template>
  <div class="release">
    <section>
      <h2>Files of this sheet</h2>
      <p v-if="!store.sheet" class="quiet">There is no sheet yet.</p>
      <p v-else class="how">
        <label v-if="store.sheet.pages.length > 1"
          >Sheet
          <Choose
            v-model:value="sheet"
            aria-label="Sheet of the files"
            :options="store.sheet.pages.map((p) => ({ value: p.number }))"
        /></label>
        <label
          >Dots an inch <InputNumber v-model:value="dpi" :min="20" :max="1200" aria-label="Dots an inch of the PNG"
        /></label>
        <Button @click="printing = true">Print preview</Button>
      </p>
      <a v-for="f in store.sheet ? files : []" :key="f.kind" class="file" :href="link(f)" download>
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
    </section>
    <section v-if="store.proof">
      <h2>Final check</h2>
      <p class="quiet">{{ RULES[store.proof.final.rule] }}. It helps whoever approves; it approves nothing.</p>
      <ul class="final" aria-label="Final check">
        <li v-for="p in store.proof.final.parts" :key="p.name" :data-part="p.name">
          <i :class="p.done ? 'done' : 'open'" aria-hidden="true">{{ p.done ? "✓" : "–" }}</i>
          <span
            ><b>{{ PARTS[p.name] }}</b> {{ p.says }}</span
          >
          <Button v-if="p.name === 'look' && !p.done && mayLook" size="small" @click="look"
            >I have looked at every page</Button
          >
        </li>
      </ul>
      <p role="status">
        {{ store.proof.final.done ? "The final check is done." : "The final check is not done yet." }}
      </p>
    </section>
    <section>
      <h2>Who did what</h2>
      <p v-for="m in store.job?.models" :key="m.id" class="log">
        <span class="tab quiet">{{ when(m.created) }}</span><span
          >model {{ m.name }} · {{ m.sha256.slice(0, 10) }} · {{ m.state }}{{ m.error ? `: ${m.error}` : "" }}</span
        >
      </p>
      <p v-for="v in log" :key="v.id" class="log">
        <span class="tab quiet">{{ when(v.at) }}</span><span
          >{{ v.author }}: {{ told(v.command) }} (version {{ v.id
          }}{{ v.id === store.sheet?.version ? ", present" : "" }})</span
        >
      </p>
      <Button v-if="more && (store.sheet?.log.length ?? 0) >= 30" @click="back">Earlier</Button>
    </section>
    <PrintPreview v-model:open="printing" />
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
.final {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.final li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
}
.final i {
  font-style: normal;
  width: 1.2em;
  text-align: center;
}
.final .done {
  color: var(--moss);
}
.final .open {
  color: var(--quiet);
}
.how {
  display: flex;
  gap: 14px;
  align-items: center;
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
