<script setup lang="ts">
/** What people say of a statement; with `null`, of statements that are no longer there. */
import { Button, Popconfirm, Textarea } from "ant-design-vue";
import { useSessionStorage } from "@vueuse/core";
import { computed, ref } from "vue";
import { useJob } from "../state";

const props = defineProps<{ statement: string | null; open?: boolean }>();
const store = useJob();
const mine = computed(() => (store.remarks ?? []).filter((r) => r.statement === props.statement));
// What is typed and not sent survives a reload.
const typed = useSessionStorage(`canonis.remark.${store.id}.${props.statement}`, "");
const writing = ref(!!typed.value || !!props.open);
const when = (at: string) => new Date(at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
async function send() {
  if (!props.statement || !typed.value.trim()) return;
  if (await store.remark(props.statement, typed.value.trim())) {
    typed.value = "";
    writing.value = false;
  }
}
</script>

<template>
  <div class="remarks">
    <p v-if="!statement" class="quiet">Remarks on statements that are no longer on the sheet:</p>
    <article v-for="r in mine" :key="r.id" :class="{ settled: r.settled_by }">
      <p>
        <template v-if="!statement">“{{ r.said }}”: </template>{{ r.text }}
      </p>
      <p class="quiet">
        {{ r.author }}, {{ when(r.created) }}<template v-if="r.settled_by"> · settled by {{ r.settled_by }}</template>
        <template v-if="store.mayRemark">
          <Button type="link" size="small" @click="store.settle(r.id, !r.settled_by)">{{
            r.settled_by ? "Open again" : "Settle"
          }}</Button>
          <Popconfirm
            v-if="r.author === store.name"
            title="Take this remark back?"
            ok-text="Take back"
            cancel-text="Keep"
            @confirm="store.takeBack(r.id)"
          >
            <Button type="link" size="small">Take back</Button>
          </Popconfirm>
        </template>
      </p>
    </article>
    <template v-if="store.mayRemark && statement">
      <div v-if="writing" @keydown.stop @keydown.esc="writing = false" @keydown.ctrl.enter.exact="send">
        <Textarea
          v-model:value="typed"
          :auto-size="{ minRows: 2, maxRows: 6 }"
          :maxlength="2000"
          placeholder="What is to be said of this statement?"
          aria-label="Remark"
          autofocus
        />
        <Button type="primary" :disabled="!typed.trim()" title="Ctrl Enter" @click="send">Leave it here</Button>
        <Button @click="writing = false">Later</Button>
      </div>
      <Button v-else @click="writing = true">Remark …</Button>
    </template>
  </div>
</template>

<style scoped>
article {
  border-left: 3px solid var(--petrol);
  padding-left: 8px;
  margin: 6px 0;
}
article.settled {
  border-left-color: var(--rule);
}
article.settled p:first-child {
  color: var(--quiet);
}
p {
  margin: 0;
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.remarks :deep(.ant-btn) {
  margin: 4px 6px 0 0;
}
.remarks :deep(.ant-btn-link) {
  padding: 0 4px;
  margin: 0;
}
</style>
