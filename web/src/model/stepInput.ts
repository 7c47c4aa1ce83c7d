import type { Step } from "../api/client";
import { AS_SHOT, bench } from "../store/bench";
import { around, findStep, rowOf } from "./lookTree";

/** The picture below a step: after which step it stands, or as shot. */
export function belowOf(id: string, steps: Step[] = bench().look?.steps ?? []): string {
  const row = rowOf(steps, id);
  const before = row[row.findIndex((s) => s.id === id) - 1];
  if (before) return before.id;
  const bundle = around(steps, id).at(-1);
  return bundle ? inputOf(bundle.id, steps) : AS_SHOT;
}

/** The picture a step reads: after which step it stands, or as shot. */
export function inputOf(id: string, steps: Step[] = bench().look?.steps ?? []): string {
  const reads = findStep(steps, id)?.mix.reads ?? "so far";
  return reads === "so far" ? belowOf(id, steps) : reads;
}
