<script setup lang="ts">
import { Button, Input } from "ant-design-vue";
import { onMounted, ref } from "vue";
import { useRouter } from "vue-router";
import { api, take, type Schemas } from "../api/client";
import { useJob } from "../state";

const store = useJob();
const router = useRouter();
const name = ref("");
const password = ref("");
const fault = ref("");
const demo = ref<Schemas["Account"][]>([]);
onMounted(async () => {
  const me = await take(api.GET("/api/session")).catch(() => null);
  demo.value = me?.demo ?? [];
});
async function enter() {
  fault.value = "";
  try {
    const me = await take(api.POST("/api/session", { body: { name: name.value, password: password.value } }));
    store.role = me.role ?? "";
    store.name = me.name ?? "";
    await router.push("/");
  } catch (refusal) {
    fault.value = (refusal as Error).message;
  }
}
function choose(account: Schemas["Account"]) {
  name.value = account.name;
  password.value = account.password;
  void enter();
}
</script>

<template>
  <main class="door">
    <svg viewBox="0 0 420 120" class="motif" aria-hidden="true">
      <g fill="none" stroke="#22262b" stroke-width="1.6">
        <path d="M60 30h180l30 30-30 30H60z" />
        <circle cx="110" cy="60" r="17" />
        <path d="M85 60h50M110 35v50" stroke-width=".7" stroke-dasharray="14 3 2 3" />
        <path d="M60 96v14M270 96v14M60 105h210" stroke-width=".7" />
      </g>
      <path d="M60 105l9-1.6v3.2zM270 105l-9-1.6v3.2z" />
      <text x="150" y="102" font-family="Canonis Sheet" font-size="13">210 ◆</text>
    </svg>
    <h1>Canonis</h1>
    <p class="quiet">Drafts the drawing of a solid part, then proves every statement on it.</p>
    <form @submit.prevent="enter">
      <label>Name<Input v-model:value="name" name="name" autocomplete="username" autofocus /></label>
      <label
        >Password<Input v-model:value="password" name="password" type="password" autocomplete="current-password"
      /></label>
      <p v-if="fault" role="alert" class="fault">{{ fault }}</p>
      <Button type="primary" html-type="submit" block>Sign in</Button>
    </form>
    <section v-if="demo.length">
      <h3>Demo accounts</h3>
      <div class="accounts">
        <Button v-for="a in demo" :key="a.name" @click="choose(a)">Enter as {{ a.role }}</Button>
      </div>
    </section>
    <p class="quiet small">
      Canonis measures and compares; it does not certify. Drawings are checked and approved by a qualified person under
      the codes that apply locally.
    </p>
  </main>
</template>

<style scoped>
.door {
  width: 440px;
  margin: 0 auto;
  padding: 7vh 0 20px;
}
.motif {
  width: 100%;
  background: var(--paper);
  border: 1px solid var(--rule);
  margin-bottom: 18px;
}
h1 {
  font-size: 30px;
  margin: 0;
}
form {
  display: grid;
  gap: 10px;
  margin: 14px 0 20px;
}
label {
  display: grid;
  gap: 3px;
}
.accounts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.fault {
  color: var(--vermilion);
  margin: 0;
}
.small {
  font-size: 13px;
  margin-top: 22px;
}
</style>
