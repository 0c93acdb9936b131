<script setup lang="ts">
import { Modal } from "ant-design-vue";
import { computed } from "vue";

const props = defineProps<{ station: string }>();
const open = defineModel<boolean>("open", { required: true });
const ALL = [
  ["1 – 5", "stations"],
  ["Ctrl K", "every action by name"],
  ["?", "this list"],
  ["Esc", "back out one level"],
];
const OF: Record<string, string[][]> = {
  sheet: [
    [". ,", "next and last statement; while measuring, next and last pick"],
    ["V", "next view"],
    ["arrows", "nudge the statement or the view"],
    ["M", "measure between two; Enter takes a pick"],
    ["Z", "zoom to what is selected"],
    ["0 + −", "fit, closer, farther; the wheel at the pointer"],
    ["Space drag", "pan, or the middle button"],
    ["Delete", "takes the statement off"],
    ["P", "how the page is set up"],
    ["T", "tidy rows and notes"],
    ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ],
  solid: [
    ["F M W S A H", "features, measure, weigh, steps, faults, changes"],
    [". ,", "on the part: next and last face, edge or corner; Enter picks it"],
    ["arrows", "on the part: turn it"],
    ["C", "copy what was measured"],
    ["X", "cut the part open"],
    ["0 + −", "fit, closer, farther"],
  ],
  proof: [
    ["R", "read the source through, line by line"],
    ["Y", "reading through: yes, so it is"],
    ["O", "another place that the line could mean"],
    ["Q", "ask: leave a remark"],
    ["U", "take the tick back"],
    ["↑ ↓", "the line before, the next line"],
  ],
  source: [
    ["Enter", "a line below"],
    ["Alt Enter", "splits the line"],
    ["Alt ↑ ↓", "moves the line"],
    ["Ctrl D", "doubles the line"],
    ["Ctrl Delete", "removes it"],
    ["F2", "to the print, to set its flag"],
    [". , F", "on the print: next and last flag, move it"],
    ["Alt 1 – 6", "lines, chains, workings, mass, house rules, findings"],
  ],
};
const rows = computed(() => [...ALL, ...(OF[props.station] ?? []), ["↑ ↓", "in the ledger: from line to line"]]);
</script>

<template>
  <Modal v-model:open="open" title="Keys" :footer="null" :width="560">
    <dl>
      <template v-for="[press, does] in rows" :key="press + does">
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
  grid-template-columns: max-content 1fr;
  gap: 5px 16px;
  margin: 0;
}
dt {
  text-align: right;
}
dd {
  margin: 0;
}
</style>
