import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// The server collects the build below /static/app/; every name in assets/ carries a hash of its content.
export default defineConfig({
  base: "/static/app/",
  plugins: [react()],
  build: { target: "es2022", chunkSizeWarningLimit: 800, assetsInlineLimit: 0 },
});
