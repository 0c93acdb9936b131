<script setup lang="ts">
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
const field = ref<HTMLInputElement>();
const found = computed(() =>
  props.actions.filter((a) => !a.off && a.name.toLowerCase().includes(words.value.toLowerCase())),
);
onMounted(() => nextTick(() => field.value?.focus()));
function go(action?: Action) {
  emit("close");
  action?.run();
}
function key(event: KeyboardEvent) {
  if (event.key === "Escape") emit("close");
  else if (event.key === "Enter") go(found.value[at.value]);
  else if (event.key === "ArrowDown") at.value = Math.min(at.value + 1, found.value.length - 1);
  else if (event.key === "ArrowUp") at.value = Math.max(at.value - 1, 0);
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div class="veil" @click.self="emit('close')">
    <div class="sheet" role="dialog" aria-label="Actions">
      <input
        ref="field"
        v-model="words"
        placeholder="What do you want to do?"
        aria-label="Find an action"
        @input="at = 0"
        @keydown="key"
      />
      <ul>
        <li v-for="(a, k) in found" :key="a.name" :class="{ on: k === at }" @click="go(a)" @mousemove="at = k">
          <span>{{ a.name }}</span><kbd v-if="a.key">{{ a.key }}</kbd>
        </li>
      </ul>
    </div>
  </div>
</template>

<style scoped>
.veil {
  position: fixed;
  inset: 0;
  background: #22262b33;
  z-index: 50;
}
.sheet {
  width: 480px;
  margin: 12vh auto 0;
  background: var(--paper);
  border: 1px solid #a9a294;
  box-shadow: 0 6px 24px #22262b33;
}
input {
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--rule);
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
li {
  display: flex;
  justify-content: space-between;
  padding: 5px 10px;
  cursor: pointer;
}
li.on {
  background: var(--ground);
}
</style>
