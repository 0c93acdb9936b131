<script setup lang="ts">
import { Button, Input, Modal } from "ant-design-vue";
import { computed, nextTick, onMounted, ref } from "vue";

export interface Action {
  name: string;
  key?: string;
  off?: boolean;
  run: () => void;
}
const props = defineProps<{ actions: Action[] }>();
const emit = defineEmits<{ close: [] }>();
const words = ref("");
const at = ref(0);
const field = ref<{ focus: () => void }>();
const found = computed(() =>
  props.actions.filter((a) => !a.off && a.name.toLowerCase().includes(words.value.toLowerCase())),
);
onMounted(() => void nextTick(() => field.value?.focus()));
function go(action?: Action) {
  emit("close");
  action?.run();
}
function key(event: KeyboardEvent) {
  if (event.key === "Enter") go(found.value[at.value]);
  else if (event.key === "ArrowDown") at.value = Math.min(at.value + 1, found.value.length - 1);
  else if (event.key === "ArrowUp") at.value = Math.max(at.value - 1, 0);
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <Modal
    open
    :footer="null"
    :closable="false"
    :width="480"
    :mask-style="{ background: '#22262b33' }"
    :body-style="{ padding: '0' }"
    :wrap-props="{ 'aria-label': 'Actions' }"
    wrap-class-name="palette"
    @cancel="emit('close')"
  >
    <Input
      ref="field"
      v-model:value="words"
      :bordered="false"
      class="find"
      placeholder="What do you want to do?"
      aria-label="Find an action"
      @input="at = 0"
      @keydown="key"
    />
    <ul>
      <li v-for="(a, k) in found" :key="a.name" @mousemove="at = k">
        <Button type="text" block class="bare action" :class="{ on: k === at }" tabindex="-1" @click="go(a)">
          <span>{{ a.name }}</span><kbd v-if="a.key">{{ a.key }}</kbd>
        </Button>
      </li>
    </ul>
  </Modal>
</template>

<style scoped>
.find {
  border-bottom: 1px solid var(--rule);
  border-radius: 0;
  padding: 10px 12px;
  font-size: 16px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 4px;
  max-height: 50vh;
  overflow: auto;
}
.action {
  display: flex;
  justify-content: space-between;
  padding: 5px 10px;
}
.action.on {
  background: var(--ground);
}
</style>
