/**
 * What of the page's code its tests have run: those of Vitest, and those in Chromium.
 *
 *     node coverage.mjs FOLDER OUT
 *
 * FOLDER has what Chromium's profiler counted, a file for each load; Vitest's own counts are where
 * it writes them. OUT gets, for each source file, its lines and branches: how many, how many run.
 * The page must have been built with `--mode coverage`, so that its code can be traced to its source.
 */
import { readdir, readFile, writeFile } from "node:fs/promises";
import { dirname, relative, resolve } from "node:path";
import { mergeScriptCovs } from "@bcoe/v8-coverage";
import { createCoverageMap } from "@vitest/istanbul-lib-coverage";
import { convert } from "ast-v8-to-istanbul";
import { parseAstAsync } from "vite";

const [folder, out] = process.argv.slice(2);
const page = resolve(import.meta.dirname, "../yearning/web");
const source = resolve(import.meta.dirname, "src");

const all = createCoverageMap(JSON.parse(await readFile("coverage/coverage-final.json", "utf8")));
const scripts = new Map();
for (const name of await readdir(folder))
  for (const script of JSON.parse(await readFile(resolve(folder, name), "utf8"))) {
    const path = resolve(page, `.${new URL(script.url).pathname}`);
    scripts.set(path, [...(scripts.get(path) ?? []), { ...script, url: `file://${path}` }]);
  }
for (const [path, loads] of scripts) {
  const code = await readFile(path, "utf8");
  const sourceMap = JSON.parse(await readFile(`${path}.map`, "utf8"));
  // its sources are told from where the map is
  sourceMap.sources = sourceMap.sources.map((each) => resolve(dirname(path), each));
  const coverage = mergeScriptCovs(loads);
  all.merge(await convert({ ast: parseAstAsync(code), code, sourceMap, coverage }));
}

const table = {};
for (const path of all.files().sort()) {
  if (!path.startsWith(source) || path.includes("/tests/")) continue;
  const { lines, branches } = all.fileCoverageFor(path).toSummary().data;
  table[relative(source, path)] = {
    lines: [lines.covered, lines.total],
    branches: [branches.covered, branches.total],
  };
}
await writeFile(out, JSON.stringify(table));
