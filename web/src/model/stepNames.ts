import type { Step } from "../api/client";

/** Words with a capital at their start. */
export const capitalize = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** What a treatment is called on the page; of another package's, `package.name`, its own name. */
export const treatmentName = (kind: string) =>
  capitalize(kind.slice(kind.lastIndexOf(".") + 1).replaceAll("_", " "));

/** What a step is called on the page. */
/** The package of others that a step's treatment is of; null for our own and for bundles. */
export const packageOf = (step: Step): string | null =>
  step.treatment.includes(".") ? (step.treatment.split(".")[0] ?? null) : null;

export const stepName = (step: Step) =>
  step.treatment === "bundle" ? step.name || "Bundle" : treatmentName(step.treatment);
