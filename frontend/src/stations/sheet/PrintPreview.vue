<script setup lang="ts">
import { Button, Modal } from "ant-design-vue";
import { useJob } from "../../state";

/** The sheets as they leave the printer: each at its proportions, with its size and scale; printing is true size. */
const open = defineModel<boolean>("open", { required: true });
const store = useJob();
const picture = (number: number) => `/api/jobs/${store.id}/export/svg?sheet=${number}&version=${store.sheet?.version}`;
function print() {
  window.open(`/api/jobs/${store.id}/export/pdf?look=true`);
}
</script>

<template>
  <Modal v-model:open="open" title="Print preview" width="min(1100px, 94vw)" :footer="null" destroy-on-close>
    <p class="how">
      <Button type="primary" @click="print">Print …</Button>
      <span class="quiet">Opens the PDF; print it at 100 %, without fitting to the page.</span>
    </p>
    <figure v-for="p in store.sheet?.pages" :key="p.number">
      <img
        :src="picture(p.number)"
        :alt="`Sheet ${p.number} as it is printed`"
        :style="{ aspectRatio: `${p.width} / ${p.height}` }"
      />
      <figcaption class="quiet">
        Sheet {{ p.number }}/{{ store.sheet?.pages.length }} · {{ p.size }}, {{ Math.round(p.width) }} ×
        {{ Math.round(p.height) }} mm
      </figcaption>
    </figure>
  </Modal>
</template>

<style scoped>
.how {
  display: flex;
  gap: 10px;
  align-items: center;
}
figure {
  margin: 0 0 14px;
}
img {
  width: 100%;
  max-height: 68vh;
  object-fit: contain;
  background: var(--ground);
  border: 1px solid var(--rule);
}
</style>
