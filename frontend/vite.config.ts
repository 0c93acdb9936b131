import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [vue()],
  build: { chunkSizeWarningLimit: 2500 },
  test: {
    environment: "happy-dom",
    environmentOptions: { happyDOM: { url: "http://localhost/" } },
    include: ["tests/**/*.test.ts"],
  },
  server: { proxy: { "/api": "http://127.0.0.1:8470" } },
});
