<script setup lang="ts">
import { Button, Checkbox, Drawer, Input } from "ant-design-vue";
import { computed, reactive, ref, watch } from "vue";
import type { Page } from "../../board/types";
import Choose from "../../parts/Choose.vue";
import { useJob } from "../../state";

defineProps<{ page: Page }>();
const open = defineModel<boolean>("open", { required: true });
const store = useJob();
const scaleNow = computed(() => {
  const s = store.sheet?.scale ?? 1;
  return s >= 1 ? `${s}:1` : `1:${Math.round(1 / s)}`;
});
const WAYS = ["-y", "+y", "+x", "-x", "+z", "-z"] as const;
type Way = (typeof WAYS)[number];
const CORNERS = [
  "auto",
  "left-front-bottom",
  "right-front-bottom",
  "left-back-bottom",
  "left-front-top",
  "right-back-top",
];
const SCALES = ["10:1", "5:1", "2:1", "1:1", "1:2", "1:5", "1:10", "1:20", "1:50"];
const options = (now: string, all: readonly string[]) => [...new Set([now, ...all])].map((value) => ({ value }));
const front = computed<Way | undefined>(() => {
  const now = store.sheet?.front_reason.match(/from (..)/)?.[1]?.toLowerCase();
  return WAYS.find((w) => w === now);
});
/** A sheet of one's own: width × height in mm. */
const own = ref("");
function takeOwn() {
  const value = own.value.trim();
  if (value) void store.edit({ op: "set", what: "size", value });
}
const revision = reactive({ letter: "", change: "" });
watch(
  () => store.sheet?.revision,
  (now) => (revision.letter = now ?? ""),
  { immediate: true },
);
async function record() {
  const { letter, change } = revision;
  await store.edit({ op: "set", what: "revision", value: letter.trim(), change: change.trim(), by: "", date: "" });
  revision.change = "";
}
const fields = computed(() => {
  const sheet = store.sheet;
  if (!sheet) return [];
  const set = (what: "size" | "scale") => (value: string) => void store.edit({ op: "set", what, value });
  return [
    {
      label: "Size",
      name: "Sheet size",
      value: sheet.size,
      options: options(
        sheet.size,
        (sheet.style === "asme" ? ["A", "B", "C", "D", "E"] : ["A4", "A3", "A2", "A1", "A0"]).flatMap((size) => [
          size,
          `${size} portrait`,
        ]),
      ),
      put: set("size"),
    },
    {
      label: "Scale",
      name: "Scale",
      value: scaleNow.value,
      options: options(scaleNow.value, SCALES),
      put: set("scale"),
    },
    {
      label: "Angle",
      name: "Projection",
      value: sheet.projection,
      options: [{ value: "first" }, { value: "third" }],
      put: (value: string) =>
        void store.edit({ op: "set", what: "projection", value: value === "third" ? "third" : "first" }),
    },
    {
      label: "Front from",
      name: "Front view",
      tip: sheet.front_reason,
      value: front.value,
      options: WAYS.map((value) => ({ value, label: value.toUpperCase() })),
      put: (value: string) => void store.redraft({ front: WAYS.find((w) => w === value) }),
    },
    {
      label: "Datum",
      name: "Datum corner",
      value: sheet.datum,
      options: options(sheet.datum, CORNERS),
      put: (value: string) => void store.redraft({ datum: value }),
    },
  ];
});
</script>

<template>
  <Drawer
    v-model:open="open"
    title="How the page is set up"
    :width="300"
    :mask="false"
    root-class-name="setup"
    :get-container="false"
  >
    <label v-for="f in fields" :key="f.name" :title="f.tip"
      >{{ f.label }}
      <Choose :value="f.value" :aria-label="f.name" :options="f.options" @change="(v) => f.put(String(v))"
    /></label>
    <label
      >Own size
      <Input
        v-model:value="own"
        placeholder="width × height, mm"
        aria-label="Own sheet size, width × height in mm"
        @press-enter="takeOwn"
    /></label>
    <fieldset class="revision">
      <legend>Revision</legend>
      <p v-for="r in store.sheet?.revisions" :key="r.letter" class="quiet row">
        <b>{{ r.letter }}</b> {{ r.change }} <span>{{ r.date }} · {{ r.by }}</span>
      </p>
      <label
        >Letter <Input v-model:value="revision.letter" aria-label="Revision" :maxlength="20" @press-enter="record"
      /></label>
      <label
        >Change
        <Input
          v-model:value="revision.change"
          aria-label="What changed"
          :maxlength="200"
          placeholder="for the revision block"
          @press-enter="record"
      /></label>
      <Button size="small" @click="record">Record</Button>
    </fieldset>
    <fieldset>
      <legend>Hidden lines in</legend>
      <Checkbox
        v-for="v in page.views.filter((x) => x.kind !== 'pictorial')"
        :key="v.id"
        :checked="v.hidden"
        @change="store.edit({ op: 'set', what: 'hidden', view: v.id, value: !v.hidden })"
        >{{ v.name }}</Checkbox
      >
    </fieldset>
    <p class="quiet">Another front or datum drafts the sheet anew; what you added stays on it.</p>
  </Drawer>
</template>

<style scoped>
label:not(.ant-checkbox-wrapper) {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
  color: var(--quiet);
  margin-bottom: 8px;
}
fieldset {
  border: 1px solid var(--rule);
  padding: 2px 10px 8px;
  margin: 4px 0 10px;
}
fieldset .ant-checkbox-wrapper {
  margin-inline: 0 10px;
}
.row {
  margin: 0 0 4px;
}
legend {
  font-size: 13px;
  color: var(--quiet);
  padding: 0 4px;
}
</style>
