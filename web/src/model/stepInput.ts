import type { Step } from "../api/client";
import { enclosingBundles, findStep, rowOf } from "./lookTree";

/** The picture below a step: after which step it stands, or as shot. */
export function belowOf(id: string, steps: Step[]): string {
  const row = rowOf(steps, id);
  const before = row[row.findIndex((s) => s.id === id) - 1];
  if (before) return before.id;
  const bundle = enclosingBundles(steps, id).at(-1);
  return bundle ? inputOf(bundle.id, steps) : "as shot";
}

/** The picture a step reads: after which step it stands, or as shot. */
export function inputOf(id: string, steps: Step[]): string {
  const reads = findStep(steps, id)?.mix.reads ?? "so far";
  return reads === "so far" ? belowOf(id, steps) : reads;
}
