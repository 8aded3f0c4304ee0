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
  // what others wrote changes seldom: a browser keeps it when our own code has changed
  build: {
    chunkSizeWarningLimit: 1000,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: "map", test: /node_modules[\\/](ol|proj4|wkt-parser|mgrs|geotiff|rbush|earcut)[\\/]/ },
            { name: "page", test: /node_modules[\\/](react|react-dom|react-router|scheduler|@tanstack|@radix-ui)[\\/]/ },
          ],
        },
      },
    },
  },
  // one jsdom for all files: bringing it up for each takes six times as long as the tests
  test: { environment: "jsdom", isolate: false, include: ["tests/**/*.test.{ts,tsx}"] },
});
