<script setup lang="ts">
import { Button } from "ant-design-vue";
import { ref } from "vue";

defineOptions({ inheritAttrs: false });
/**
 * A button that asks for files. The library's upload puts a button into a button, which neither keys nor screen readers
 * cope with; this is its button with the browser's own chooser behind it.
 */
defineProps<{ accept: string; multiple?: boolean; primary?: boolean; name: string; hidden?: boolean }>();
const emit = defineEmits<{ files: [files: File[]] }>();
const chooser = ref<HTMLInputElement>();
function chosen() {
  const files = [...(chooser.value?.files ?? [])];
  if (chooser.value) chooser.value.value = "";
  if (files.length) emit("files", files);
}
const open = () => chooser.value?.click();
defineExpose({ open });
</script>

<template>
  <Button v-if="!hidden" :type="primary ? 'primary' : 'default'" v-bind="$attrs" @click="open"><slot /></Button>
  <input ref="chooser" type="file" :accept="accept" :multiple="multiple" hidden :data-test="name" @change="chosen" />
</template>
