import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const service = process.env.VERIDOX_URL ?? "http://127.0.0.1:8440";

export default defineConfig(({ command }) => ({
  plugins: [react(), tailwindcss()],
  // Built files are served by the service below its static address.
  base: command === "build" ? "/static/console/" : "/",
  build: {
    outDir: "../src/veridox/service/console_build",
    emptyOutDir: true,
    // The content security policy allows no inline script and no data: script.
    modulePreload: { polyfill: false },
    assetsInlineLimit: 0,
  },
  server: { port: 5173, proxy: { "/api": { target: service, changeOrigin: false } } },
}));
