<script setup lang="ts">
import { Button } from "ant-design-vue";
import { computed } from "vue";
import { STATES, type Finding } from "../board/types";
import { useJob } from "../state";
import Levels from "./proof/Levels.vue";
import Choose from "../parts/Choose.vue";

const store = useJob();
const groups = computed(() => {
  const all = (store.proof?.findings ?? []).filter((f) => !f.under);
  const of = (f: (x: Finding) => boolean) => all.filter(f);
  const source = (x: Finding) => x.rule.endsWith(".source") || x.rule.startsWith("mass");
  return [
    {
      title: "The model differs from the source",
      mark: "▼",
      cls: "state-differs-source",
      items: of((x) => source(x) && x.severity === "error"),
    },
    {
      title: "The sheet differs from the model",
      mark: "▲",
      cls: "state-differs-model",
      items: of((x) => x.severity === "error" && !source(x)),
    },
    { title: "To complete", mark: "◇", cls: "state-unproven", items: of((x) => x.severity === "warning") },
    { title: "To know", mark: "○", cls: "quiet", items: of((x) => x.severity === "advice") },
  ].filter((g) => g.items.length);
});
const lines = computed(() => store.proof?.ledger.filter((r) => r.kind === "characteristic") ?? []);
const statements = computed(() => store.proof?.ledger.filter((r) => r.kind === "statement") ?? []);
/** What follows from a finding, listed under it. */
const following = computed(() => {
  const out = new Map<string, Finding[]>();
  for (const f of store.proof?.findings ?? []) if (f.under) out.set(f.under, [...(out.get(f.under) ?? []), f]);
  return out;
});
function go(f: Finding) {
  store.selected = f.subject.startsWith("#")
    ? `c:${f.subject.slice(1)}`
    : ["mass", "centre"].includes(f.subject)
      ? f.subject
      : `s:${f.subject}`;
}
const links = computed(() => [
  { value: "auto", label: "by the program" },
  { value: "none", label: "unlinked" },
  ...statements.value.map((s) => ({ value: s.key.slice(2), label: `${s.number} ${s.text}` })),
]);
const linked = (n: string) => (n in (store.proof?.links ?? {}) ? (store.proof!.links[n] ?? "none") : "auto");
</script>

<template>
  <div v-if="store.proof" class="proof" :class="{ outdated: !store.current }">
    <section class="sum">
      <p class="big">
        <b class="state-proven">◆ {{ store.proof.summary.proven }} proven</b>
        <b class="state-unproven">◇ {{ store.proof.summary.unproven }} not yet</b>
        <b class="state-differs-model">▲ {{ store.proof.summary.contradicted }} contradicted</b>
        <span v-if="store.proving || !store.current" class="quiet" role="status">proving again …</span>
      </p>
      <p>
        {{
          store.proof.complete.ok
            ? "The sheet fixes every level and size of the part, each once."
            : "The sheet leaves something open or says it twice; see below."
        }}
      </p>
      <p class="quiet">
        Each statement is read back from its text and measured again in the file by another route than the one that
        wrote it. This compares; it does not certify.
      </p>
    </section>
    <p v-if="!groups.length" class="none">Nothing differs. ◆</p>
    <section v-for="g in groups" :key="g.title">
      <h2 :class="g.cls">
        {{ g.mark }} {{ g.title }} <span class="tab">({{ g.items.length }})</span>
      </h2>
      <template v-for="f in g.items" :key="f.id">
        <Button type="text" class="bare finding" @click="go(f)">{{ f.message }}</Button>
        <details v-if="following.has(f.id)" class="following">
          <summary class="quiet">{{ following.get(f.id)?.length }} more follow from this</summary>
          <Button type="text" v-for="c in following.get(f.id)" :key="c.id" class="bare finding" @click="go(c)">{{
            c.message
          }}</Button>
        </details>
      </template>
    </section>
    <details v-if="store.proof.drawn_level?.length" class="level">
      <summary>
        {{ store.proof.drawn_level.length === 1 ? "One place is" : `${store.proof.drawn_level.length} places are` }}
        only drawn level, not said
      </summary>
      <p class="quiet">
        The sheet is complete only if these are read as lying at one level. State them where that could be misread.
      </p>
      <ul>
        <li v-for="w in store.proof.drawn_level" :key="w">{{ w }}</li>
      </ul>
    </details>
    <Levels v-if="store.proof.ladders?.length" :ladders="store.proof.ladders" />
    <section v-if="lines.length">
      <h2>Source against sheet and model</h2>
      <div class="cap quiet">
        <span></span><span>Source</span><span>Implied by</span><span>Model</span><span>Off by</span
        ><span>Linked to</span>
      </div>
      <div
        v-for="r in lines"
        :key="r.key"
        class="row"
        :class="{ on: r.key === store.selected }"
        @click="store.selected = r.key"
      >
        <span :class="`state-${r.state}`" :title="STATES[r.state]?.word">{{ STATES[r.state]?.mark }}</span>
        <span class="sheet"
          ><i>#{{ r.number }}</i> {{ r.text }}</span
        >
        <span class="sheet">{{ r.how }}</span><span class="tab">{{ r.model ?? "–" }}</span
        ><span class="tab">{{ r.difference ?? "" }}</span>
        <Choose
          :value="linked(r.number)"
          :disabled="!store.mayEdit"
          :aria-label="`Link of ${r.number}`"
          search
          :options="links"
          @click.stop
          @change="(v) => store.link(r.number!, String(v))"
        />
      </div>
    </section>
  </div>
  <div v-else class="empty">
    <h2>Nothing to prove yet</h2>
    <p>As soon as a sheet is drafted every statement on it is proved here.</p>
  </div>
</template>

<style scoped>
.proof {
  height: 100%;
  overflow: auto;
  padding: 14px 18px;
}
section {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 12px 14px;
  margin-bottom: 12px;
}
.sum p {
  margin: 0 0 4px;
}
.big {
  display: flex;
  gap: 22px;
  font-size: 17px;
}
.finding {
  display: block;
  width: 100%;
  text-align: left;
  font: inherit;
  background: none;
  border: 0;
  border-top: 1px solid #e4dfd4;
  padding: 5px 4px;
  cursor: pointer;
}
.finding:hover {
  background: var(--paper);
}
.following {
  margin-left: 22px;
}
.following summary {
  cursor: pointer;
  padding: 2px 4px;
}
.level {
  background: var(--panel);
  border: 1px solid var(--rule);
  padding: 10px 14px;
  margin-bottom: 12px;
}
.level summary {
  cursor: pointer;
}
.level p,
.level ul {
  margin: 4px 0 0;
}
.cap,
.row {
  display: grid;
  grid-template-columns: 20px 1.3fr 1.4fr 84px 70px 150px;
  gap: 8px;
  padding: 3px 4px;
  align-items: center;
}
.cap {
  font-size: 12px;
}
.row {
  border-top: 1px solid #e4dfd4;
  cursor: pointer;
}
.row.on {
  background: var(--paper);
  box-shadow: inset 0 0 0 1px var(--halo);
}
.row select {
  width: 150px;
  font-size: 13px;
  padding: 1px 4px;
}
.sheet {
  font-family: "Canonis Sheet", sans-serif;
}
.sheet i {
  font-style: normal;
  color: var(--quiet);
  font-size: 12px;
}
.none {
  font-size: 17px;
  color: var(--moss);
}
.empty {
  height: 100%;
  display: grid;
  place-content: center;
  text-align: center;
}
</style>
