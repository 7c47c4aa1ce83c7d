import babel from "@rolldown/plugin-babel";
import react, { reactCompilerPreset } from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  // the compiler keeps what a change does not touch from being rendered again
  plugins: [react(), babel({ include: /web\/src\/.*\.tsx?$/, presets: [reactCompilerPreset()] })],
  build: { outDir: "../yearning/web", emptyOutDir: true, chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": { target: "http://127.0.0.1:8765", ws: true } } },
});
