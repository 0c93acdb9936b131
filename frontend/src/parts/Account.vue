<script setup lang="ts">
import { Alert, Button, Dropdown, Form, FormItem, InputPassword, Menu, MenuItem, Modal } from "ant-design-vue";
import { reactive, ref } from "vue";
import { useRouter } from "vue-router";
import { api, take, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { useJob } from "../state";

const store = useJob();
const router = useRouter();
const open = ref<"" | "password" | "sessions">("");
const fault = ref("");
const said = ref("");
const typed = reactive({ old: "", new: "", again: "" });
const sessions = ref<Schemas["SessionCard"][]>([]);
const when = (iso: string) => new Date(iso).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });

/** A browser by the words it sends of itself that a person knows. */
function browser(agent: string): string {
  const kind = /(Firefox|Edg|Chrome|Safari)/.exec(agent)?.[1];
  const system = /(Windows|Mac OS|Android|Linux|iPhone|iPad)/.exec(agent)?.[1];
  return kind ? `${kind === "Edg" ? "Edge" : kind}${system ? ` on ${system}` : ""}` : agent.slice(0, 40) || "a program";
}
async function act(work: () => Promise<unknown>, done = "") {
  fault.value = said.value = "";
  try {
    await work();
    said.value = done;
  } catch (refusal) {
    fault.value = (refusal as Error).message;
  }
}
function show(what: "password" | "sessions") {
  open.value = what;
  Object.assign(typed, { old: "", new: "", again: "" });
  void act(async () => {
    if (what === "sessions") sessions.value = await take(api.GET("/api/sessions"));
  });
}
async function change() {
  await act(async () => {
    if (typed.new !== typed.again) throw new Error("The new password and its repetition differ; type both again.");
    await take(api.POST("/api/session/password", { body: { old: typed.old, new: typed.new } }));
    Object.assign(typed, { old: "", new: "", again: "" });
  }, "Your password is changed; your other sessions have ended.");
}
const endOthers = () =>
  act(async () => {
    sessions.value = await take(api.DELETE("/api/sessions"));
  }, "All other sessions have ended.");
async function leave() {
  await take(api.DELETE("/api/session"));
  store.role = "";
  await router.push("/sign-in");
  // Nothing of one's own stays in the page for whoever signs in next.
  queries.clear();
}
</script>

<template>
  <Dropdown :trigger="['click']">
    <Button class="who" :title="`Signed in as ${store.name} (${store.role})`">{{ store.name }} ▾</Button>
    <template #overlay>
      <Menu>
        <MenuItem key="password" @click="show('password')">Change my password</MenuItem>
        <MenuItem key="sessions" @click="show('sessions')">Where I am signed in</MenuItem>
        <MenuItem key="leave" @click="leave">Sign out</MenuItem>
      </Menu>
    </template>
  </Dropdown>
  <Modal
    :open="open === 'password'"
    title="Change my password"
    :footer="null"
    :width="420"
    destroy-on-close
    @cancel="open = ''"
  >
    <Form layout="vertical" @submit.prevent="change">
      <FormItem label="Present password"
        ><InputPassword v-model:value="typed.old" name="old" autocomplete="current-password"
      /></FormItem>
      <FormItem label="New password, 8 characters or more"
        ><InputPassword v-model:value="typed.new" name="new" autocomplete="new-password"
      /></FormItem>
      <FormItem label="New password again"
        ><InputPassword v-model:value="typed.again" name="again" autocomplete="new-password"
      /></FormItem>
      <Alert v-if="fault" type="error" :message="fault" role="alert" class="answer" />
      <Alert v-if="said" type="success" :message="said" role="status" class="answer" />
      <Button type="primary" html-type="submit" :disabled="!typed.old || typed.new.length < 8">Change it</Button>
    </Form>
  </Modal>
  <Modal
    :open="open === 'sessions'"
    title="Where I am signed in"
    :footer="null"
    :width="520"
    destroy-on-close
    @cancel="open = ''"
  >
    <ul class="sessions">
      <li v-for="(s, k) in sessions" :key="k">
        <span
          ><b>{{ browser(s.agent) }}</b
          ><span v-if="s.here" class="here"> · this one</span></span
        >
        <span class="quiet">since {{ when(s.created) }}, last used {{ when(s.seen) }}</span>
      </li>
    </ul>
    <Alert v-if="fault" type="error" :message="fault" role="alert" class="answer" />
    <Alert v-if="said" type="success" :message="said" role="status" class="answer" />
    <Button @click="endOthers">End all others</Button>
  </Modal>
</template>

<style scoped>
.who {
  color: var(--quiet);
  background: none;
  border-color: transparent;
}
.answer {
  margin-bottom: 12px;
}
.sessions {
  list-style: none;
  padding: 0;
  margin: 0 0 14px;
  display: grid;
  gap: 8px;
  max-height: 320px;
  overflow: auto;
}
.sessions li {
  display: grid;
  border-bottom: 1px solid var(--rule);
  padding-bottom: 6px;
}
.here {
  color: var(--moss);
}
</style>
