import tailwind from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwind()],
  // No module: the engine reaches a module's own names a quarter slower.
  worker: { format: "iife" },
  build: { target: "es2022", chunkSizeWarningLimit: 2000, sourcemap: true },
  server: { host: "127.0.0.1", proxy: { "/api": `http://127.0.0.1:${process.env.HARBOR_API_PORT ?? 4174}` } },
});
