<script setup lang="ts">
import { Button, Checkbox, Input, Slider } from "ant-design-vue";
import { computed, ref } from "vue";
import { useJob } from "../state";
import { opened, useSolid, type Pick, type Row, type Want } from "./store";
import { writer } from "./words";

const KINDS = ["face", "edge", "axis", "sharp"] as const;
const AXES = [
  ["x", 0],
  ["y", 1],
  ["z", 2],
] as const;
const store = useJob();
const solid = useSolid();
const typed = ref("");
const complaint = ref("");
const inch = computed(() => store.job?.unit === "in");
const WANTS: { key: Want; name: string; says: string }[] = [
  { key: "face", name: "Face", says: "a flat or round face" },
  { key: "edge", name: "Edge", says: "an edge or a circle" },
  { key: "corner", name: "Corner", says: "where edges meet" },
  { key: "axis", name: "Axis", says: "the axis of a round face" },
  {
    key: "sharp",
    name: "Sharp edge",
    says: "the edge that a round or a chamfer took away: click the round",
  },
  { key: "apex", name: "Sharp corner", says: "the corner that rounds or chamfers took away: click near it" },
];
const says = computed(() => WANTS.find((w) => w.key === solid.want)?.says);
function sayPick(p: Pick): string {
  if (p.kind === "feature") return p.id;
  if (p.kind === "point") return `point ${p.at?.join(", ")}`;
  if (p.kind === "vertex") return "a corner";
  if (p.kind === "corner") return "a sharp corner";
  if (p.kind === "sharp") return `sharp edge at face ${p.index + 1}`;
  return `${p.kind} ${p.index + 1}`;
}
/** A pick typed instead of clicked: H1, face 12, edge 3, axis 4, sharp 5, or a point x, y, z. */
async function take() {
  const text = typed.value.trim();
  const word = /^(face|edge|axis|sharp)\s+(\d+)$/i.exec(text);
  const numbers = text.split(/[,;\s]+/).map(Number);
  complaint.value = "";
  const blank = { solid: 0, index: 0, end: 0 as const, id: "", member: 0 };
  if (word)
    await solid.pick({
      ...blank,
      kind: KINDS.find((k) => k === word[1].toLowerCase()) ?? "face",
      index: Math.max(0, Number(word[2]) - 1),
    });
  else if (numbers.length === 3 && numbers.every(Number.isFinite))
    await solid.pick({
      ...blank,
      kind: "point",
      at: numbers.map((c) => (inch.value ? c * 25.4 : c)) as [number, number, number],
    });
  else if (/^[a-z]{1,2}\d+$/i.test(text)) await solid.pick({ ...blank, kind: "feature", id: text.toUpperCase() });
  else return void (complaint.value = "Type a feature (H1), face 12, edge 3, axis 4, sharp 5, or a point x, y, z.");
  typed.value = "";
}
async function copy(row: Row) {
  await navigator.clipboard?.writeText(row.text).catch(() => undefined);
  store.notice = `Copied ${row.text}`;
}
const thick = computed(() => {
  const t = solid.thickness;
  return t
    ? t.mm == null
      ? "no other side there"
      : `${writer(inch.value)(t.mm)} ${inch.value ? "in" : "mm"}`
    : "point at a face";
});
</script>

<template>
  <div>
    <div class="wants" role="radiogroup" aria-label="What a click picks">
      <Button
        v-for="w in WANTS"
        :key="w.key"
        role="radio"
        :aria-checked="solid.want === w.key"
        :type="solid.want === w.key ? 'primary' : 'default'"
        @click="solid.want = w.key"
      >
        {{ w.name }}
      </Button>
    </div>
    <p class="quiet">A click picks {{ says }}.</p>
    <form @submit.prevent="take">
      <Input v-model:value="typed" aria-label="Type a pick" placeholder="or type: H1, face 12, 10, 0, 5" />
      <Button html-type="submit">Pick</Button>
    </form>
    <p v-if="complaint" class="warn">{{ complaint }}</p>
    <p v-if="solid.picks.length" class="picks">
      <span v-for="(p, k) in solid.picks" :key="k" class="chip">{{ sayPick(p) }}</span>
      <Button @click="solid.clear()">Clear</Button>
    </p>
    <template v-if="solid.measured">
      <table>
        <tbody>
          <tr v-for="(r, k) in solid.measured.rows" :key="k" :class="{ main: r === solid.main }">
            <th>{{ r.label }}</th>
            <td class="tab">
              <b>{{ r.text }}</b>
              <small v-if="r.fraction && r.value" :title="`off by ${r.fraction.off_mm.toFixed(4)} mm`"
                >{{ r.fraction.exact ? "=" : "≈" }} {{ r.fraction.text }}</small
              >
            </td>
            <td class="doing">
              <Button :title="'Copy ' + r.text" @click="copy(r)">Copy</Button>
              <Button
                v-if="store.mayEdit && r.unit !== 'mm2'"
                title="Make it a line of the source"
                @click="solid.keep(r, 'line')"
              >
                Line
              </Button>
              <Button
                v-if="store.mayEdit && r.unit === 'mm'"
                title="Put it on the workings pad"
                @click="solid.keep(r, 'working')"
              >
                Pad
              </Button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="quiet">
        {{ inch ? "Inches" : "Millimetres" }}; along x, y and z of {{ solid.measured.frame
        }}<span v-if="solid.measured.frame_status !== 'same'" class="warn">
          ({{ solid.measured.frame_status }} on this model)</span
        >. <kbd>C</kbd> copies the first.
      </p>
    </template>
    <p v-else-if="!solid.picks.length" class="quiet">Pick one thing for its own sizes, two for what lies between.</p>
    <h4>Wall under the pointer</h4>
    <Checkbox v-model:checked="solid.probing">measure while I point</Checkbox>
    <span v-if="solid.probing" class="tab thick" data-test="thickness">{{ thick }}</span>
    <h4>Look inside</h4>
    <div class="clip">
      <Button
        v-for="[name, k] in AXES"
        :key="name"
        :type="solid.clip?.axis === k ? 'primary' : 'default'"
        :aria-pressed="solid.clip?.axis === k"
        :title="`Cut open across ${name}`"
        @click="solid.clip = solid.clip?.axis === k ? null : opened(k)"
      >
        cut {{ name }}
      </Button>
      <template v-if="solid.clip">
        <Slider
          v-model:value="solid.clip.at"
          class="where"
          :min="0"
          :max="1"
          :step="0.005"
          :tooltip-open="false"
          aria-label-for-handle="Where the cutting plane stands"
        />
        <Button title="Show the other half" @click="solid.clip.turned = !solid.clip.turned">turn</Button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.wants,
.clip,
form,
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}
form input {
  flex: 1;
  min-width: 0;
}
.picks {
  margin: 8px 0;
}
.chip {
  background: #f4e3c3;
  border: 1px solid #c79a45;
  border-radius: 3px;
  padding: 1px 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
  padding: 2px 4px 2px 0;
}
td {
  padding: 2px 4px;
  vertical-align: top;
}
tr {
  border-top: 1px solid #e4dfd4;
}
tr.main td b {
  font-size: 17px;
}
td small {
  display: block;
  color: var(--quiet);
  white-space: nowrap;
}
.doing {
  white-space: nowrap;
  text-align: right;
}
.doing button {
  font-size: 12px;
  padding: 1px 5px;
  margin-left: 2px;
}
.clip input {
  flex: 1;
  min-width: 60px;
}
h4 {
  margin: 14px 0 4px;
}
p {
  margin: 4px 0;
}
.warn {
  color: var(--vermilion);
}
.thick {
  margin-left: 10px;
  font-weight: 700;
}
</style>
