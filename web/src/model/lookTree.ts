import type { Step } from "../api/client";

/** A look's steps as a tree: a bundle holds steps of its own. */

export const isBundle = (step: Step) => step.treatment === "bundle";

export const innerSteps = (step: Step): Step[] =>
  isBundle(step) ? ((step.settings.steps as Step[] | undefined) ?? []) : [];

export const withInner = (bundle: Step, steps: Step[]): Step => ({
  ...bundle,
  settings: { ...bundle.settings, steps },
});

/** Every step, those inside a bundle before it: in the order of their work. */
export const allSteps = (steps: Step[]): Step[] =>
  steps.flatMap((step) => [...allSteps(innerSteps(step)), step]);

export const findStep = (steps: Step[], id: string | null): Step | undefined =>
  allSteps(steps).find((step) => step.id === id);

/** The bundles around a step, the outermost first. */
export function enclosingBundles(steps: Step[], id: string): Step[] {
  for (const step of steps) {
    if (innerSteps(step).some((s) => s.id === id)) return [step];
    const within = enclosingBundles(innerSteps(step), id);
    if (within.length) return [step, ...within];
  }
  return [];
}

/** The row a step stands in. */
export function rowOf(steps: Step[], id: string): Step[] {
  const bundle = enclosingBundles(steps, id).at(-1);
  return bundle ? innerSteps(bundle) : steps;
}

/** The same tree with one step changed. */
export const withStep = (steps: Step[], id: string, change: (step: Step) => Step): Step[] =>
  steps.map((step) => {
    if (step.id === id) return change(step);
    return isBundle(step) ? withInner(step, withStep(innerSteps(step), id, change)) : step;
  });

/** The same tree with the row changed that a step stands in. */
export function withRow(steps: Step[], id: string, change: (row: Step[]) => Step[]): Step[] {
  const bundle = enclosingBundles(steps, id).at(-1);
  if (!bundle) return change(steps);
  return withStep(steps, bundle.id, (b) => withInner(b, change(innerSteps(b))));
}

/** A row with the chosen steps a place earlier or later; at its end they stay. */
export function shiftSteps(row: Step[], chosen: Set<string>, by: 1 | -1): Step[] {
  const order = by < 0 ? row : row.toReversed();
  const moved: Step[] = [];
  for (const step of order) {
    const before = moved.at(-1);
    const passes = chosen.has(step.id) && before !== undefined && !chosen.has(before.id);
    moved.splice(passes ? moved.length - 1 : moved.length, 0, step);
  }
  return by < 0 ? moved : moved.reverse();
}

/** Have steps and shapes that read a step that is gone read what is so far. */
export function withoutReadsOf(steps: Step[], gone: Set<string>): Step[] {
  return steps.map((step) => {
    const input = step.mix.input ?? "previous";
    const found = step.mix.mask?.some((shape) => gone.has(String(shape.of)));
    const mask = step.mix.mask?.map((shape) =>
      gone.has(String(shape.of)) ? { ...shape, of: "previous" } : shape,
    );
    const read = gone.has(input) ? { ...step.mix, input: "previous" } : step.mix;
    const mix = found ? { ...read, mask } : read;
    const kept = mix === step.mix ? step : { ...step, mix };
    return isBundle(kept) ? withInner(kept, withoutReadsOf(innerSteps(kept), gone)) : kept;
  });
}

/** The steps a step may read: those whose work is done before its own. */
export function readable(steps: Step[], id: string): Step[] {
  const order = allSteps(steps);
  const step = order.find((s) => s.id === id);
  const within = new Set(step ? allSteps(innerSteps(step)).map((s) => s.id) : []);
  const at = order.findIndex((s) => s.id === id);
  return order.slice(0, at).filter((s) => !within.has(s.id));
}

/** Steps in a row made one step; those chosen stand beside each other then. */
export function bundleSteps(row: Step[], chosen: Set<string>, id: string): Step[] {
  const first = row.findIndex((s) => chosen.has(s.id));
  const steps = row.filter((s) => chosen.has(s.id));
  const bundle: Step = {
    id,
    treatment: "bundle",
    name: "",
    settings: { steps },
    mix: { blend: "normal", amount: 1 },
    on: true,
  };
  const rest = row.filter((s) => !chosen.has(s.id));
  return rest.toSpliced(first, 0, bundle);
}
