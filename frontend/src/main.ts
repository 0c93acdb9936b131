import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "ant-design-vue/dist/reset.css";
import "./theme/base.css";
import { VueQueryPlugin } from "@tanstack/vue-query";
import { createPinia } from "pinia";
import { createApp } from "vue";
import { createRouter, createWebHistory } from "vue-router";
import App from "./App.vue";
import { queries } from "./api/queries";
import { keepMended } from "./parts/mend";
import SignIn from "./stations/SignIn.vue";

const router = createRouter({
  history: createWebHistory(),
  routes: [
    // Each page is fetched when it is opened.
    { path: "/", component: () => import("./stations/Jobs.vue") },
    { path: "/sign-in", component: SignIn },
    { path: "/people", component: () => import("./stations/People.vue") },
    { path: "/jobs/:id/:station?", component: () => import("./stations/Bench.vue") },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});
createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClient: queries }).use(router).mount("#app");
keepMended(document.body);
