import type { Step } from "../api/client";

/** Words with a capital at their start. */
export const titled = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** What a step is called on the page. */
export const stepName = (step: Step) =>
  step.treatment === "bundle" ? step.name || "Bundle" : titled(step.treatment);
