<script setup lang="ts">
import { ConfigProvider } from "ant-design-vue";
import { onMounted } from "vue";
import { useRoute, useRouter } from "vue-router";
import { api, take } from "./api/client";
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
onMounted(async () => {
  const me = await take(api.GET("/api/session")).catch(() => null);
  store.role = me?.role ?? "";
  store.name = me?.name ?? "";
  if (!store.role && route.path !== "/sign-in") await router.replace("/sign-in");
});
</script>

<template>
  <ConfigProvider :theme="theme" :auto-insert-space-in-button="false"><RouterView /></ConfigProvider>
</template>
