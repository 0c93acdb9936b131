<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { computed, nextTick, ref, watch } from "vue";
import { STATES, type LedgerRow } from "../board/types";
import { useJob } from "../state";

const props = defineProps<{ station: string }>();
const store = useJob();
// In the source station the list itself stands where the ledger would; it starts folded there.
const folded = computed({
  get: () => store.folded[props.station] ?? props.station === "source",
  set: (value) => (store.folded = { ...store.folded, [props.station]: value }),
});
const show = ref<"all" | "open">("all");
const words = ref("");
const body = ref<HTMLElement>();
const rows = computed<LedgerRow[]>(() => {
  const all = store.proof?.ledger ?? [];
  const wanted = words.value.trim().toLowerCase();
  return all.filter(
    (r) =>
      (show.value === "all" || !["proven", "reference"].includes(r.state)) &&
      (!wanted || `${r.number} ${r.text} ${r.words} ${r.where ?? ""}`.toLowerCase().includes(wanted)),
  );
});
const groups = computed(() => [
  { title: "Source", rows: rows.value.filter((r) => r.kind === "characteristic") },
  { title: "Mass", rows: rows.value.filter((r) => r.kind === "mass") },
  { title: "Drawn statements", rows: rows.value.filter((r) => r.kind === "statement") },
]);
function step(event: KeyboardEvent, by: number) {
  const flat = groups.value.flatMap((g) => g.rows);
  const at = flat.findIndex((r) => r.key === store.selected);
  const next = flat[Math.min(flat.length - 1, Math.max(0, at + by))];
  if (next) store.selected = next.key;
  event.preventDefault();
}
watch(
  () => store.selected,
  async () => {
    await nextTick();
    body.value?.querySelector(".on")?.scrollIntoView({ block: "nearest" });
  },
);
</script>

<template>
  <aside class="ledger" :class="{ folded }" aria-label="Ledger">
    <header>
      <Button
        :aria-expanded="!folded"
        :title="folded ? 'Unfold the ledger' : 'Fold the ledger'"
        @click="folded = !folded"
      >
        {{ folded ? "‹" : "›" }}
      </Button>
      <template v-if="!folded">
        <h3>Ledger</h3>
        <span v-if="store.proving || (store.proof && !store.current)" class="quiet" role="status">proving again …</span>
        <span v-else-if="store.proof" class="tab">
          <b class="state-proven">◆ {{ store.proof.summary.proven }}</b> ·
          <b class="state-unproven">◇ {{ store.proof.summary.unproven }}</b> ·
          <b class="state-differs-model">▲ {{ store.proof.summary.contradicted }}</b>
        </span>
        <Button
          :type="show === 'open' ? 'primary' : 'default'"
          :aria-pressed="!!(show === 'open')"
          @click="show = show === 'open' ? 'all' : 'open'"
        >
          open only
        </Button>
      </template>
    </header>
    <div
      v-if="!folded"
      ref="body"
      class="body"
      :class="{ outdated: store.proof && !store.current }"
      tabindex="0"
      @keydown.down="step($event, 1)"
      @keydown.up="step($event, -1)"
    >
      <Input
        v-if="store.proof"
        v-model:value="words"
        class="find"
        allow-clear
        placeholder="Find a line"
        aria-label="Find a line of the ledger"
        @keydown.stop
      />
      <p v-if="store.proof && words && !rows.length" class="quiet note">No line says “{{ words }}”.</p>
      <p v-if="!store.proof" class="quiet note">
        Every statement of the sheet and of the source gets its line here as soon as a model has been drafted.
      </p>
      <template v-for="g in groups" :key="g.title">
        <template v-if="g.rows.length">
          <h4>{{ g.title }}</h4>
          <div class="cap quiet">
            <span></span><span>statement</span><span>{{ g.title === "Drawn statements" ? "drawn" : "source" }}</span
            ><span>model</span>
          </div>
          <Button
            type="text"
            v-for="r in g.rows"
            :key="r.key"
            class="bare line"
            :class="{ on: r.key === store.selected }"
            :data-key="r.key"
            :title="`${r.text}: ${STATES[r.state]?.word}${r.how ? ' · ' + r.how : ''}`"
            @click="store.selected = r.key"
          >
            <span :class="`state-${r.state}`" :aria-label="STATES[r.state]?.word">{{ STATES[r.state]?.mark }}</span>
            <span class="what"
              ><i>{{ r.kind === "characteristic" ? "#" : "" }}{{ r.number }}</i> {{ r.text }}</span
            >
            <span class="tab">{{ g.title === "Drawn statements" ? r.drawn : r.source }}</span>
            <span class="tab">{{ r.model ?? "–" }}</span>
            <span v-if="r.key === store.selected" class="more">
              {{ STATES[r.state]?.word }}<template v-if="r.difference">, off by {{ r.difference }}</template>
              <template v-if="r.how"> · {{ r.how }}</template>
              <template v-if="r.kind === 'statement' && r.source"> · {{ r.source }}</template>
            </span>
          </Button>
        </template>
      </template>
    </div>
  </aside>
</template>

<style scoped>
.find {
  margin: 6px 10px 0;
  width: calc(100% - 20px);
}
.ledger {
  width: 352px;
  flex: none;
  display: flex;
  flex-direction: column;
  background: var(--panel);
  border-left: 1px solid var(--rule);
  min-height: 0;
}
.ledger.folded {
  width: 42px;
}
header {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px;
  border-bottom: 1px solid var(--rule);
}
header h3 {
  margin: 0;
  flex: 1;
}
.body {
  overflow: auto;
  flex: 1;
  padding-bottom: 20px;
}
h4 {
  margin: 12px 10px 2px;
  font-size: 13px;
}
.cap,
.line {
  display: grid;
  grid-template-columns: 18px 1fr 68px 68px;
  gap: 4px;
  width: 100%;
  padding: 3px 10px;
  text-align: left;
}
.cap {
  font-size: 12px;
}
.line {
  font: inherit;
  background: none;
  border: 0;
  border-top: 1px solid #e4dfd4;
  cursor: pointer;
}
.line:hover {
  background: var(--paper);
}
.line.on {
  background: var(--paper);
  box-shadow:
    inset 0 0 0 1px var(--halo),
    inset 0 0 0 3px #2f8f8333;
}
.what {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-family: "Canonis Sheet", sans-serif;
}
.what i {
  font-style: normal;
  margin-right: 4px;
  color: var(--quiet);
  font-size: 12px;
}
.line.on .what {
  white-space: normal;
}
.more {
  grid-column: 2 / -1;
  color: var(--quiet);
  font-size: 13px;
}
.note {
  padding: 12px;
}
</style>
