<script setup lang="ts">
/**
 * The levels of the part along one direction, and the lengths that the sheet states between them: what is not fixed is
 * dotted, what is said twice doubled. Drawn by hand: no component of the library draws this.
 */
import { Segmented } from "ant-design-vue";
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import type { Ladder } from "../../board/types";
import { useJob } from "../../state";
import { placed } from "./levels";

const props = defineProps<{ ladders: Ladder[] }>();
const room = ref<HTMLElement>();
const { width: wide } = useElementSize(room);
const store = useJob();
const names = computed(() =>
  props.ladders.map((l) => (props.ladders.some((o) => o.sheet !== l.sheet) ? `${l.sheet}: ` : "") + l.direction),
);
const chosen = ref("");
/** The direction that was chosen, else the one with the most to see. */
const at = computed(() => {
  const given = names.value.indexOf(chosen.value);
  if (given >= 0) return given;
  const most = Math.max(...props.ladders.map((l) => l.links.length));
  return props.ladders.findIndex((l) => l.links.length === most);
});
const ladder = computed(() => props.ladders[at.value]);
const drawing = computed(() => (ladder.value ? placed(ladder.value, Math.max(420, wide.value || 780)) : null));
const texts = computed(() => new Map((store.proof?.ledger ?? []).map((r) => [r.key, r.text])));

const text = (statement: string) => texts.value.get(`s:${statement}`) ?? statement;
const on = (statement: string) => store.chosen.includes(statement);
const pick = (statement: string) => (store.selected = `s:${statement}`);
function pickAt(rung: number) {
  const links = ladder.value?.links.filter((l) => l.first === rung || l.second === rung) ?? [];
  const now = links.findIndex((l) => on(l.statement));
  const next = links[(now + 1) % Math.max(1, links.length)];
  if (next) pick(next.statement);
}
</script>

<template>
  <section v-if="ladder && drawing" class="levels">
    <header>
      <h2>Levels</h2>
      <Segmented
        :value="names[at] ?? ''"
        :options="names"
        aria-label="Direction"
        @change="(v) => (chosen = String(v))"
      />
      <span class="quiet">
        {{ ladder.rungs.length }} levels, {{ ladder.links.length }} lengths between them; dotted: not fixed by the
        sheet; doubled: said twice
      </span>
    </header>
    <div ref="room" class="scroll">
      <svg
        :width="drawing.width"
        :height="drawing.height"
        :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
        role="group"
        :aria-label="`Levels along ${ladder.direction}`"
      >
        <g
          v-for="(r, k) in ladder.rungs"
          :key="`r${k}`"
          class="rung"
          :class="{ free: !r.fixed, datum: r.datum }"
          role="button"
          tabindex="0"
          :aria-label="`Level ${r.words}${r.fixed ? '' : ', not fixed'}`"
          @click="pickAt(k)"
          @keydown.enter="pickAt(k)"
        >
          <line :x1="drawing.x[k]" :x2="drawing.x[k]" y1="22" :y2="drawing.height - 4" />
          <text :x="drawing.x[k]" y="14">{{ r.words.split("= ")[1] }}</text>
          <path v-if="r.datum" :d="`M${(drawing.x[k] ?? 0) - 5} 30h10l-5 -7z`" />
        </g>
        <g
          v-for="(l, k) in ladder.links"
          :key="`l${k}`"
          class="link"
          :class="{ twice: l.twice, on: on(l.statement) }"
          role="button"
          tabindex="0"
          :aria-label="`${text(l.statement)}${l.twice ? ', said twice' : ''}`"
          @click="pick(l.statement)"
          @keydown.enter="pick(l.statement)"
        >
          <rect
            :x="drawing.x[l.first]"
            :y="(drawing.y[k] ?? 0) - 8"
            :width="(drawing.x[l.second] ?? 0) - (drawing.x[l.first] ?? 0)"
            height="14"
          />
          <line :x1="drawing.x[l.first]" :x2="drawing.x[l.second]" :y1="drawing.y[k]" :y2="drawing.y[k]" />
          <line
            v-if="l.twice"
            :x1="drawing.x[l.first]"
            :x2="drawing.x[l.second]"
            :y1="(drawing.y[k] ?? 0) + 3"
            :y2="(drawing.y[k] ?? 0) + 3"
          />
          <circle :cx="drawing.x[l.first]" :cy="drawing.y[k]" r="2.5" />
          <circle :cx="drawing.x[l.second]" :cy="drawing.y[k]" r="2.5" />
          <text :x="((drawing.x[l.first] ?? 0) + (drawing.x[l.second] ?? 0)) / 2" :y="(drawing.y[k] ?? 0) - 3">
            {{ l.reference ? `(${text(l.statement)})` : text(l.statement) }}
          </text>
        </g>
      </svg>
    </div>
  </section>
</template>

<style scoped>
header {
  display: flex;
  gap: 14px;
  align-items: center;
  margin-bottom: 6px;
}
header h2 {
  margin: 0;
}
.scroll {
  overflow-x: auto;
}
svg {
  display: block;
  font-family: "Canonis Sheet", sans-serif;
  font-size: 11px;
}
text {
  text-anchor: middle;
  fill: var(--ink);
}
line {
  stroke: var(--ink);
}
.rung line {
  stroke: var(--rule);
}
.rung path {
  fill: var(--ink);
}
.rung.free line {
  stroke: var(--vermilion);
  stroke-dasharray: 2 4;
}
.rung.free text {
  fill: var(--vermilion);
}
.rung,
.link {
  cursor: pointer;
  outline: none;
}
.rung:focus-visible line,
.link:focus-visible line {
  stroke-width: 2.5;
}
.link rect {
  fill: transparent;
}
.link.on rect {
  fill: var(--halo);
  opacity: 0.35;
}
.link.on line {
  stroke-width: 2;
}
</style>
