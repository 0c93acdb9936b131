<script setup lang="ts">
/** A button with what it does and its key said on hover and focus. */
import { Button, Tooltip } from "ant-design-vue";

defineOptions({ inheritAttrs: false });
defineProps<{ press?: string; tip?: string; on?: boolean; disabled?: boolean; primary?: boolean }>();
defineEmits<{ press: [] }>();
</script>

<template>
  <Tooltip :mouse-enter-delay="0.5">
    <template v-if="press || tip" #title
      >{{ tip }} <kbd v-if="press">{{ press }}</kbd></template
    >
    <Button
      v-bind="$attrs"
      :type="on || primary ? 'primary' : 'default'"
      :aria-pressed="on === undefined ? undefined : on"
      :disabled="disabled"
      @click="$emit('press')"
      ><slot
    /></Button>
  </Tooltip>
</template>
