<script setup lang="ts">
import { TabPane, Tabs } from "ant-design-vue";
import { ref } from "vue";

/** A row of leaves; the arrows go from one to the next. */
const props = defineProps<{
  at: string;
  leaves: readonly { key: string; name: string; count?: number; tip?: string }[];
}>();
const emit = defineEmits<{ go: [key: string] }>();
const box = ref<HTMLElement>();
function arrow(event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
  if (!by) return;
  const k = props.leaves.findIndex((l) => l.key === props.at);
  const next = props.leaves[(k + by + props.leaves.length) % props.leaves.length];
  if (next) emit("go", next.key);
  box.value?.querySelectorAll<HTMLElement>("[role=tab]")[props.leaves.indexOf(next!)]?.focus();
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div ref="box" class="leaves" @keydown="arrow">
    <Tabs :active-key="at" :animated="false" :tab-bar-gutter="10" @change="(k) => emit('go', String(k))">
      <TabPane v-for="l in leaves" :key="l.key">
        <template #tab>
          <span :title="l.tip"
            >{{ l.name }}<small v-if="l.count">{{ l.count }}</small></span
          >
        </template>
      </TabPane>
    </Tabs>
  </div>
</template>

<style scoped>
.leaves {
  flex: none;
}
.leaves :deep(.ant-tabs-nav-operations) {
  display: none !important;
}
.leaves :deep(.ant-tabs-nav) {
  margin: 0;
}
.leaves :deep(.ant-tabs-nav::before) {
  border: 0;
}
.leaves :deep(.ant-tabs-tab) {
  padding: 5px 2px;
  font-size: 13px;
}
.leaves :deep(.ant-tabs-content-holder) {
  display: none;
}
small {
  margin-left: 4px;
  color: var(--quiet);
}
</style>
