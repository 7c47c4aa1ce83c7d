import type { Step, Treatment } from "../api/client";
import { keyedNames } from "./keyframes";
import { applies } from "./stepSummary";

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** For each of an open step's pages, whether something there is not as the step was made. */
export function unlikeMade(step: Step, made: Treatment | undefined) {
  const settings = made?.settings.filter((s) => applies(s, step)) ?? [];
  const { blend, amount, input, tones, mask, layer, out_of_range } = step.mix;
  return {
    what: settings.some((s) => !same(step.settings[s.name] ?? s.default, s.default)),
    where: Boolean(tones?.length || mask?.length),
    mixed:
      blend !== (made?.blend ?? "normal") ||
      amount !== (made?.amount ?? 1) ||
      (input ?? "previous") !== "previous" ||
      (layer ?? "own") !== "own" ||
      (out_of_range ?? "limit") !== "limit",
    when: keyedNames(step).length > 0 || Boolean(step.bursts?.length),
  };
}
