import type { Look, MatchSubject, Step } from "../api/client";
import { findStep, innerSteps, isBundle, withInner, withStep } from "./lookTree";
import { same } from "./same";

/** A grade that brings a clip near another picture, in a look. */

/** How much of a grade is tried. */
export const AMOUNTS = [0.25, 0.5, 0.75, 1];

type Found = Pick<MatchSubject, "step" | "place">;

/** The look with so much of a grade; one that it has already gives way, where it stands. */
export function withMatch(look: Look, { step, place }: Found, amount: number): Look {
  const made = { ...(step as Step), mix: { ...step.mix, amount } } as Step;
  if (!findStep(look.steps, made.id))
    return { ...look, steps: place === "before" ? [made, ...look.steps] : [...look.steps, made] };
  return { ...look, steps: withStep(look.steps, made.id, (old) => regradeStep(old, made)) };
}

/** A grade of a look with another's settings and amount. */
function regradeStep(old: Step, made: Step): Step {
  const inner = isBundle(old) ? innerSteps(old) : [];
  const fresh = innerSteps(made);
  const alike = same(
    inner.map((s) => [s.id, s.treatment]),
    fresh.map((s) => [s.id, s.treatment]),
  );
  if (!alike) return made;
  const steps = inner.map((s, n) => ({ ...s, settings: fresh[n]?.settings ?? s.settings }) as Step);
  return withInner({ ...old, mix: { ...old.mix, amount: made.mix.amount } }, steps);
}

/** The look as it would be without a grade. */
export const withoutMatch = (look: Look, id: string): Look => ({
  ...look,
  steps: look.steps.filter((step) => step.id !== id),
});

/** How much of a grade a look has; null where it has another, or none. */
export function matchAmount(look: Look, { step }: Found): number | null {
  const found = findStep(look.steps, step.id);
  if (!found || !isBundle(found)) return null;
  const settings = (of: Step) => innerSteps(of).map((s) => s.settings);
  return same(settings(found), settings(step as Step)) ? (found.mix.amount ?? 1) : null;
}
