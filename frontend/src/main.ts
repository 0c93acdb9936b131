import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "ant-design-vue/dist/reset.css";
import "./theme/base.css";
import { createPinia } from "pinia";
import { createApp } from "vue";
import { createRouter, createWebHistory } from "vue-router";
import App from "./App.vue";
import Bench from "./stations/Bench.vue";
import Jobs from "./stations/Jobs.vue";
import People from "./stations/People.vue";
import SignIn from "./stations/SignIn.vue";

const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", component: Jobs },
    { path: "/sign-in", component: SignIn },
    { path: "/people", component: People },
    { path: "/jobs/:id/:station?", component: Bench },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});
createApp(App).use(createPinia()).use(router).mount("#app");
