<script setup lang="ts">
import { Button, Input, Textarea } from "ant-design-vue";
import { computed, ref, useAttrs } from "vue";
import { useDraft } from "./draft";

defineOptions({ inheritAttrs: false });
const props = defineProps<{
  /** Names the field among all of this browser's: the job, what, which one. */
  of: string;
  /** What the server has. */
  value: string | number | null | undefined;
  disabled?: boolean;
  /** Whether each stroke goes out, not only what is left behind. */
  live?: boolean;
  area?: boolean;
}>();
const emit = defineEmits<{ put: [text: string]; enter: [] }>();
const attrs = useAttrs();
const draft = useDraft(
  () => props.of,
  () => String(props.value ?? ""),
  (text) => emit("put", text),
);
const at = ref(false);
const kind = computed(() => (props.area ? Textarea : Input));
function typed() {
  if (props.live) draft.give();
}
function entered() {
  draft.give(true);
  emit("enter");
}
function left() {
  at.value = false;
  draft.leave();
}
function took() {
  at.value = true;
  draft.take();
}
const label = computed(() => (draft.dirty.value && !at.value ? "Not stored yet" : undefined));
</script>

<template>
  <component
    :is="kind"
    v-bind="attrs"
    v-model:value="draft.text.value"
    :disabled="disabled"
    :status="draft.dirty.value && !at ? 'warning' : ''"
    :title="label"
    autocomplete="off"
    @focus="took"
    @blur="left"
    @input="typed"
    @press-enter="entered"
  />
  <span v-if="draft.theirs.value !== null" class="theirs" role="status">
    Somebody stored “{{ draft.theirs.value }}” meanwhile.
    <Button type="link" @mousedown.prevent @click="draft.drop()">Take it</Button>
  </span>
</template>

<style scoped>
.theirs {
  color: var(--plum);
  font-size: 12px;
}
</style>
