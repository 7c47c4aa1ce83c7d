import type { Setting, Step, Treatment } from "../api/client";
import { keyedNames } from "./keyframes";
import { innerSteps, isBundle } from "./lookTree";
import { packageOf } from "./stepNames";
import { countWords, formatFixed } from "./words";

/** Whether a setting has an effect beside the others' values. */
export function applies(setting: Setting, step: Step): boolean {
  const conditions = Object.entries(setting.visible_if ?? {});
  return conditions.every(([name, values]) =>
    (values as unknown[]).includes(step.settings[name] ?? null),
  );
}

/** A choice's word on screen. */
export function choiceWord(name: string, value: unknown): string {
  return name === "gauge" && typeof value === "number" ? `${value} mm` : String(value);
}

/** The step in a few words, and whether it changes with time. */
export function summary(step: Step, treatment: Treatment | undefined): string {
  const from = packageOf(step);
  if (!treatment && from) return `of package ${from}`;
  const bursts = step.bursts?.length ?? 0;
  const keyed = keyedNames(step).length;
  const timed = [keyed ? `${keyed} keyed` : "", bursts ? countWords(bursts, "burst") : ""].filter(
    Boolean,
  );
  return timed.length ? timed.join(", ") : changedWords(step, treatment);
}

/** Treatments that do nothing without a file. */
const NEEDS_FILE = ["plate", "table"];

/** A plate's or table's name without what the project adds to it: its digest and its ending. */
export const fileTitle = (file: string) =>
  file.replace(/\.[a-z0-9]+$/i, "").replace(/[-.][0-9a-f]{8,64}$/i, "");

/** What differs from how it was made, else its first number. */
function changedWords(step: Step, treatment: Treatment | undefined): string {
  if (isBundle(step)) return countWords(innerSteps(step).length, "step");
  if (!treatment) return "";
  const file = step.settings.file;
  if (typeof file === "string" && file) return fileTitle(file);
  if (file === "" && NEEDS_FILE.includes(treatment.kind)) return "none chosen yet";
  const words = treatment.settings
    .filter((s) => applies(s, step))
    .filter((s) => ["choice", "px@1080", "points", "stops"].includes(s.unit))
    .map((s) => {
      const value = step.settings[s.name];
      if (s.unit === "choice") return choiceWord(s.name, value);
      if (s.unit === "stops") return `${formatFixed(Number(value), 1)} stops`;
      if (s.unit === "px@1080") return value ? `${Number(value).toFixed(0)} px` : "";
      return JSON.stringify(value) === JSON.stringify(s.default) ? "" : s.label.toLowerCase();
    })
    .filter(Boolean);
  const differing = treatment.settings
    .filter((s) => JSON.stringify(step.settings[s.name]) !== JSON.stringify(s.default))
    .map((s) => s.label.toLowerCase());
  const shown = words.length ? words : differing;
  return shown.slice(0, 2).join(", ") || (treatment.kind === "curve" ? "straight" : "as made");
}
