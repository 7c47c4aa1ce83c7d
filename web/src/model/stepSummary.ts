import type { Setting, Step } from "../api/client";
import { treatmentOf } from "../store/bench";
import { keyedNames } from "./keyframes";
import { inside, isBundle } from "./lookTree";

/** Whether a setting has an effect beside the others' values. */
export function applies(setting: Setting, step: Step): boolean {
  const conditions = Object.entries(setting.only_if ?? {});
  return conditions.every(([name, values]) =>
    (values as unknown[]).includes(step.settings[name] ?? null),
  );
}

/** A choice's word on screen. */
export function choiceWord(name: string, value: unknown): string {
  return name === "gauge" && typeof value === "number" ? `${value} mm` : String(value);
}

/** The step in a few words, and whether it changes with time. */
export function summary(step: Step): string {
  const bursts = step.bursts?.length ?? 0;
  const keyed = keyedNames(step).length;
  const timed = [
    keyed ? `${keyed} keyed` : "",
    bursts ? `${bursts} ${bursts === 1 ? "burst" : "bursts"}` : "",
  ].filter(Boolean);
  return timed.length ? timed.join(", ") : plainly(step);
}

/** What differs from how it was made, else its first number. */
function plainly(step: Step): string {
  if (isBundle(step)) return `${inside(step).length} steps`;
  const treatment = treatmentOf(step);
  if (!treatment) return "";
  const words = treatment.settings
    .filter((s) => applies(s, step))
    .filter((s) => s.unit === "choice" || s.unit === "px@1080" || s.unit === "points")
    .map((s) => {
      const value = step.settings[s.name];
      if (s.unit === "choice") return choiceWord(s.name, value);
      if (s.unit === "px@1080") return value ? `${Number(value).toFixed(0)} px` : "";
      return JSON.stringify(value) === JSON.stringify(s.default) ? "" : s.label.toLowerCase();
    })
    .filter(Boolean);
  const changed = treatment.settings
    .filter((s) => JSON.stringify(step.settings[s.name]) !== JSON.stringify(s.default))
    .map((s) => s.label.toLowerCase());
  const said = words.length ? words : changed;
  return said.slice(0, 2).join(", ") || (treatment.kind === "curve" ? "straight" : "as made");
}
