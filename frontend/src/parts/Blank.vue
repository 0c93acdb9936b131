<script setup lang="ts">
/** What stands where there is nothing yet: a few lines of an empty sheet, and the next step. */
import { Empty } from "ant-design-vue";
</script>

<template>
  <Empty class="blank">
    <template #image>
      <svg viewBox="0 0 96 68" width="96" height="68" aria-hidden="true">
        <path d="M2 2h92v64H2zM60 66V52h34" fill="#fffefb" stroke="#a9a294" />
        <path d="M20 38h36M28 20v26" stroke="#a9a294" stroke-dasharray="9 2 2 2" fill="none" />
      </svg>
    </template>
    <template #description><slot /></template>
  </Empty>
</template>

<style scoped>
.blank :deep(.ant-empty-image) {
  height: 68px;
}
.blank :deep(.ant-empty-description) {
  color: inherit;
}
</style>
