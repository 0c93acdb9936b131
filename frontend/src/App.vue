<script setup lang="ts">
import { Alert, Button, ConfigProvider } from "ant-design-vue";
import { useEventListener } from "@vueuse/core";
import { onMounted } from "vue";
import { useRoute, useRouter } from "vue-router";
import { api, take, updated } from "./api/client";
import { useJob } from "./state";

const theme = {
  token: {
    colorPrimary: "#0d5c63",
    colorInfo: "#0d5c63",
    colorError: "#b8371f",
    colorSuccess: "#4d6b2f",
    borderRadius: 3,
    fontFamily: "'Atkinson Hyperlegible', 'Canonis Sheet', sans-serif",
    colorBgContainer: "#fffefb",
    colorBgElevated: "#f7f5f0",
    colorBgMask: "rgba(34, 38, 43, 0.32)",
    colorBorder: "#a9a294",
    colorText: "#22262b",
    colorTextPlaceholder: "#5d6269",
    controlHeight: 26,
    controlHeightSM: 22,
    paddingContentHorizontal: 11,
    // Flat on the stone: no shadows under controls, quiet waves.
    boxShadow: "none",
    wireframe: false,
  },
};
const store = useJob();
const router = useRouter();
const route = useRoute();
// A part of the page that is not there any more: the program was updated under it.
useEventListener(window, "vite:preloadError", (event) => {
  updated.value = true;
  event.preventDefault();
});
const reload = () => location.reload();
onMounted(async () => {
  const me = await take(api.GET("/api/session")).catch(() => null);
  // Whoever signed in while this was on its way is in.
  if (store.name) return;
  store.role = me?.role ?? "";
  store.name = me?.name ?? "";
  if (!store.role && route.path !== "/sign-in") await router.replace("/sign-in");
});
</script>

<template>
  <ConfigProvider :theme="theme" :auto-insert-space-in-button="false">
    <Alert v-if="updated" class="updated" type="info" banner :show-icon="false" role="status">
      <template #message>
        Canonis was updated. Reload this page when it suits you: what you typed is kept.
        <Button type="primary" @click="reload">Reload</Button>
      </template>
    </Alert>
    <RouterView />
  </ConfigProvider>
</template>

<style scoped>
.updated {
  position: fixed;
  inset: auto 12px 12px auto;
  z-index: 1000;
  border: 1px solid var(--petrol);
  background: var(--paper);
}
</style>
