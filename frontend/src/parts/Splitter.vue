<script setup lang="ts">
/**
 * A bar between two panes that is dragged, or moved by the arrows; where it stands is remembered. Hand-made: the library
 * has none.
 */
import { useLocalStorage } from "@vueuse/core";
import { watch } from "vue";

const props = defineProps<{
  /** Names the place that is remembered. */
  keep: string;
  label: string;
  /** The width at first, px, and its bounds. */
  first: number;
  least: number;
  most: number;
  /** The side of the bar that the pane lies on. */
  pane: "left" | "right";
}>();
const width = defineModel<number>({ required: true });
const kept = useLocalStorage(`canonis.width.${props.keep}`, props.first, { writeDefaults: false });
watch(kept, () => (width.value = kept.value), { immediate: true });
let from = { x: 0, width: 0 };
let dragging = false;
function put(wanted: number) {
  kept.value = Math.round(Math.min(props.most, Math.max(props.least, wanted)));
}
function down(event: PointerEvent) {
  dragging = true;
  from = { x: event.clientX, width: kept.value };
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent) {
  if (dragging) put(from.width + (event.clientX - from.x) * (props.pane === "left" ? 1 : -1));
}
function key(event: KeyboardEvent) {
  const wide = props.pane === "left" ? "ArrowRight" : "ArrowLeft";
  const by = { ArrowLeft: 16, ArrowRight: 16, Home: 0 }[event.key];
  if (by === undefined) return;
  put(by ? kept.value + (event.key === wide ? by : -by) : props.first);
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div
    class="splitter"
    role="separator"
    aria-orientation="vertical"
    tabindex="0"
    :aria-label="label"
    :aria-valuenow="kept"
    :aria-valuemin="least"
    :aria-valuemax="most"
    title="Drag, or use the arrows; twice puts it back"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="dragging = false"
    @pointercancel="dragging = false"
    @dblclick="put(first)"
    @keydown="key"
  />
</template>

<style scoped>
.splitter {
  width: 7px;
  flex: none;
  margin: 0 -3px;
  z-index: 2;
  cursor: col-resize;
  touch-action: none;
}
.splitter:hover,
.splitter:focus-visible {
  background: linear-gradient(90deg, transparent 2px, var(--halo) 2px 5px, transparent 5px);
  outline: none;
}
</style>
