import { reactRouter } from "@react-router/dev/vite";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";
import { compression } from "vite-plugin-compression2";

/** React Router as it is for production: its package leads to the development build, which checks and warns, everywhere. */
const ROUTER = fileURLToPath(new URL("node_modules/react-router/dist/production/", import.meta.url));

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [
    reactRouter(),
    !isSsrBuild && compression({ include: /\.(js|css|svg)$/, algorithms: ["brotliCompress", "gzip"] }),
  ],
  ...(isSsrBuild && {
    ssr: { noExternal: ["react-router", "@react-router/node"] },
    resolve: {
      alias: [
        { find: /^react-router$/, replacement: `${ROUTER}index.mjs` },
        { find: /^react-router\/dom$/, replacement: `${ROUTER}dom-export.mjs` },
      ],
    },
  }),
  build: {
    chunkSizeWarningLimit: 1500,
    // Fonts stay files: the content security policy allows no data in their place.
    assetsInlineLimit: 0,
    // The server bundle holds the whole web process, so that screens and HTTP interface share one set of modules.
    ...(isSsrBuild && { rollupOptions: { input: "./server/main/app.ts" } }),
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
