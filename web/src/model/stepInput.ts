import type { Step } from "../api/client";
import { enclosingBundles, findStep, rowOf } from "./lookTree";

/** The picture below a step: after which step it stands, or as shot. */
export function belowOf(id: string, steps: Step[]): string {
  const row = rowOf(steps, id);
  const before = row[row.findIndex((s) => s.id === id) - 1];
  if (before) return before.id;
  const bundle = enclosingBundles(steps, id).at(-1);
  return bundle ? inputOf(bundle.id, steps) : "footage";
}

/** The picture a step reads: after which step it stands, or as shot. */
export function inputOf(id: string, steps: Step[]): string {
  const input = findStep(steps, id)?.mix.input ?? "previous";
  return input === "previous" ? belowOf(id, steps) : input;
}
