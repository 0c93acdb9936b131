<script setup lang="ts">
import { Modal } from "ant-design-vue";
import { computed } from "vue";
import { EVERYWHERE, KEYS } from "../../actions";

const props = defineProps<{ station: string }>();
const open = defineModel<boolean>("open", { required: true });
const rows = computed(() => {
  const own = KEYS[props.station] ?? [];
  return [...EVERYWHERE, ...own, { press: "↑ ↓", help: "in the ledger: from line to line" }].map((e) => ({
    press: e.press ?? "",
    does: e.help ?? "",
  }));
});
</script>

<template>
  <Modal v-model:open="open" title="Keys" :footer="null" :width="900" centered>
    <dl>
      <template v-for="{ press, does } in rows" :key="press + does">
        <dt>
          <kbd>{{ press }}</kbd>
        </dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
  </Modal>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 5px 16px;
  align-items: baseline;
  max-height: 76vh;
  overflow: auto;
  margin: 0;
}
dt {
  text-align: right;
}
dd {
  margin: 0;
}
</style>
