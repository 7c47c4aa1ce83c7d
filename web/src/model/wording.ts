import type { Step, Treatment } from "../api/client";
import { innerSteps } from "./lookTree";
import { stepName } from "./stepNames";

/** Places of a look file, as an error names them. */
const PLACE =
  /steps\[(\d+)\]((?:\.settings\.steps\[\d+\])*)(?:\.(settings|mix|keys|bursts))?(?:\.(\w+)|\[(\d+)\])?/g;

const FIELDS: Record<string, string> = {
  amount: "its amount",
  blend: "its blend",
  tones: "the tones it shows in",
  input: "its input",
};

/**
 * An error about a look in the words of the page: `steps[0].settings.spread` is "Glow: Spread".
 * What is no place of the look stays as it is.
 */
export function inPlainWords(text: string, steps: Step[], treatments: Treatment[]): string {
  return text.replace(PLACE, (place, first, deeper: string, part, name, at) => {
    const numbers = [first, ...[...deeper.matchAll(/\[(\d+)\]/g)].map((m) => m[1])].map(Number);
    let row = steps;
    let step: Step | undefined;
    for (const number of numbers) {
      step = row[number];
      row = step ? innerSteps(step) : [];
    }
    if (!step) return place;
    const made = treatments.find((t) => t.kind === step.treatment);
    const words = stepName(step);
    if (part === "bursts") return `${words}: burst ${Number(at ?? 0) + 1}`;
    const label = made?.settings.find((s) => s.name === name)?.label ?? FIELDS[name ?? ""];
    if (part === "keys") return label ? `${words}: the keys of ${label}` : `${words}: its keys`;
    return label ? `${words}: ${label}` : words;
  });
}
