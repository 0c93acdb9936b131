<script setup lang="ts" generic="V extends string | number">
import { Select } from "ant-design-vue";
import { computed, onMounted, onUpdated, ref, useAttrs } from "vue";

/** The library's list with a spoken name: it does not hand `aria-label` on to what has the focus. */
interface Choice {
  value?: V;
  label?: string;
  options?: { value: V; label: string }[];
}
defineOptions({ inheritAttrs: false });
defineProps<{ value?: V | null; options: Choice[]; disabled?: boolean; search?: boolean }>();
const emit = defineEmits<{ change: [value: V]; "update:value": [value: V] }>();
const attrs = useAttrs();
const box = ref<{ $el?: HTMLElement }>();
const name = computed(() => attrs["aria-label"] as string | undefined);
const others = computed(() => Object.fromEntries(Object.entries(attrs).filter(([key]) => key !== "aria-label")));
function speak() {
  const field = box.value?.$el?.querySelector?.("input");
  if (field && name.value) field.setAttribute("aria-label", name.value);
}
function chosen(value: unknown) {
  emit("update:value", value as V);
  emit("change", value as V);
}
onMounted(speak);
onUpdated(speak);
</script>

<template>
  <Select
    ref="box"
    v-bind="others"
    :value="(value ?? undefined) as never"
    :options="options as never"
    :disabled="disabled"
    :show-search="search"
    option-filter-prop="label"
    :dropdown-match-select-width="false"
    @change="chosen"
  />
</template>
