import { reactRouter } from "@react-router/dev/vite";
import { defineConfig } from "vite";

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [reactRouter()],
  build: {
    chunkSizeWarningLimit: 1500,
    // Fonts stay files: the content security policy allows no data in their place.
    assetsInlineLimit: 0,
    // The server bundle holds the whole web process, so that screens and HTTP interface share one set of modules.
    ...(isSsrBuild && { rollupOptions: { input: "./server/app.ts" } }),
  },
  css: {
    preprocessorOptions: {
      scss: {
        quietDeps: true,
        silenceDeprecations: ["import", "color-functions", "global-builtin", "if-function"],
      },
    },
  },
}));
