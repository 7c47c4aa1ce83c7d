import type { Shape, Step } from "../api/client";
import { allSteps, innerSteps, isBundle } from "./lookTree";

/** An id of a kind that none of `taken` has. */
export function freshId(kind: string, taken: Set<string>): string {
  let n = 1;
  while (taken.has(`${kind}-${n}`)) n += 1;
  return `${kind}-${n}`;
}

/** A name that none of `taken` is: with a number after it where it has to be. */
export function freshName(name: string, taken: string[]): string {
  let found = name;
  for (let n = 2; taken.includes(found); n += 1) found = `${name} ${n}`;
  return found;
}

/**
 * Copies of steps for a look whose ids are `taken`: each has an id of its own, what reads another of
 * them, or is in the same shape, keeps to its copy, and what reads a step that is not there reads what
 * is so far.
 */
export function copiesOf(steps: Step[], taken: Set<string>): Step[] {
  const known = new Set(taken);
  const fresh = new Map<string, string>();
  for (const { id, treatment } of allSteps(steps)) {
    const made = freshId(treatment, known);
    known.add(made);
    fresh.set(id, made);
  }
  const inputOf = (input: string | undefined) => {
    if (input === undefined || input === "previous" || input === "footage") return input;
    return fresh.get(input) ?? (taken.has(input) ? input : "previous");
  };
  const copiedShape = (shape: Shape): Shape => {
    const dot = shape.same_as?.lastIndexOf(".") ?? -1;
    const source = fresh.get(shape.same_as?.slice(0, dot) ?? "");
    return {
      ...shape,
      ...(source && { same_as: `${source}${shape.same_as?.slice(dot)}` }),
      ...(shape.of !== undefined && { of: inputOf(String(shape.of)) }),
    };
  };
  const copy = (step: Step): Step => ({
    ...step,
    id: fresh.get(step.id) ?? step.id,
    mix: {
      ...step.mix,
      ...(step.mix.input && { input: inputOf(step.mix.input) }),
      ...(step.mix.mask && { mask: step.mix.mask.map(copiedShape) }),
    },
    settings: isBundle(step)
      ? { ...step.settings, steps: innerSteps(step).map(copy) }
      : step.settings,
  });
  return steps.map(copy);
}

/** The steps as text: a look file that holds them alone. */
export const asText = (name: string, steps: Step[]): string =>
  JSON.stringify({ format: "yearning-look/3", name, steps }, null, 1);

/** The steps of a look given as text; null if it is none. The server checks what they hold. */
export function stepsIn(text: string): Step[] | null {
  try {
    const { format, steps } = JSON.parse(text) as { format?: unknown; steps?: unknown };
    const isLook = typeof format === "string" && format.startsWith("yearning-look/");
    return isLook && Array.isArray(steps) ? (steps as Step[]) : null;
  } catch {
    return null;
  }
}
