import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

const SERVER = "http://127.0.0.1:8420";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // the server answers pages of its own address only
  server: {
    proxy: { "/api": { target: SERVER, changeOrigin: true, headers: { origin: SERVER } } },
  },
  build: { chunkSizeWarningLimit: 1500 },
  // one jsdom for all files: bringing it up for each takes six times as long as the tests
  test: { environment: "jsdom", isolate: false, include: ["tests/**/*.test.{ts,tsx}"] },
});
