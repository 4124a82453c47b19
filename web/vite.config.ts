import tailwind from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

const router = fileURLToPath(new URL("../node_modules/react-router/dist/production/index.mjs", import.meta.url));

export default defineConfig({
  plugins: [react(), tailwind()],
  // The package names its build for developers alone, which says more and is larger.
  resolve: { alias: [{ find: /^react-router$/, replacement: router }] },
  // No module: the engine reaches a module's own names a quarter slower.
  worker: { format: "iife" },
  build: { target: "es2022", chunkSizeWarningLimit: 2000, sourcemap: true },
  server: { host: "127.0.0.1", proxy: { "/api": `http://127.0.0.1:${process.env.HARBOR_API_PORT ?? 4174}` } },
});
