import "./mapGroupBy.ts";
import babel from "@rolldown/plugin-babel";
import react, { reactCompilerPreset } from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// the compiler keeps what a change does not touch from being rendered again
const compiler = () => babel({ include: /web\/src\/.*\.tsx?$/, presets: [reactCompilerPreset()] });

export default defineConfig(({ mode }) => {
  const isTraced = mode === "coverage";
  // tests run the code as it is written: the compiler adds branches, and takes its time
  const isTested = isTraced || mode === "test";
  return {
    plugins: [react(), ...(isTested ? [] : [compiler()])],
    build: {
      outDir: "../yearning/web",
      emptyOutDir: true,
      chunkSizeWarningLimit: 1200,
      ...(isTraced && { minify: false, sourcemap: true }), // lines and branches are found again
    },
    server: { proxy: { "/api": { target: "http://127.0.0.1:8765", ws: true } } },
    test: {
      testTimeout: 60_000, // beside other work a page takes seconds to be drawn
      coverage: {
        include: ["src/**"],
        exclude: ["src/**/tests/**", "src/api/schema.d.ts"],
        reporter: ["json"],
      },
    },
  };
});
