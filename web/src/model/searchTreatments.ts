import type { Treatment } from "../api/client";

/** What may be found of a treatment, the words that say most first, with what a find is worth. */
const FIELDS: [number, (t: Treatment) => string[]][] = [
  [8, (t) => [t.kind]],
  [5, (t) => t.keywords],
  [3, (t) => t.settings.map((s) => s.label)],
  [2, (t) => [t.summary, t.stage]],
];

const words = (text: string) => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];

/** How well a treatment answers to one word: it begins one of the treatment's words. */
function worth(treatment: Treatment, word: string): number {
  for (const [value, of] of FIELDS) {
    const found = of(treatment).flatMap(words);
    if (found.includes(word)) return value + 1;
    if (found.some((each) => each.startsWith(word))) return value;
  }
  return 0;
}

/**
 * The treatments that answer to all words of a search, the best first; all of them for an empty one.
 * They are found by name, by what people call them, by their settings, and by what they do.
 */
export function searchTreatments(treatments: Treatment[], search: string): Treatment[] {
  const asked = words(search);
  return treatments
    .map((treatment) => ({ treatment, worths: asked.map((word) => worth(treatment, word)) }))
    .filter(({ worths }) => worths.every((value) => value > 0))
    .sort((a, b) => sum(b.worths) - sum(a.worths))
    .map(({ treatment }) => treatment);
}

const sum = (values: number[]) => values.reduce((total, value) => total + value, 0);
