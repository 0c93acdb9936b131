<script setup lang="ts" generic="V extends string | number">
import { Select } from "ant-design-vue";
import { onMounted, onUpdated, ref } from "vue";

/** The library's list of several choices, with a spoken name on what has the focus. */
const props = defineProps<{ value: V[]; options: { value: V; label: string }[]; label: string }>();
const emit = defineEmits<{ change: [value: V[]] }>();
const box = ref<{ $el?: HTMLElement }>();
function speak() {
  box.value?.$el?.querySelector?.("input")?.setAttribute("aria-label", props.label);
}
onMounted(speak);
onUpdated(speak);
const chosen = (given: unknown) => emit("change", Array.isArray(given) ? given : []);
</script>

<template>
  <Select
    ref="box"
    mode="multiple"
    :value="value"
    :options="options"
    option-filter-prop="label"
    max-tag-count="responsive"
    @change="chosen"
  />
</template>
