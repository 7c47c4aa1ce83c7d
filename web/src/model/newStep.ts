import type { Catalogue, Step, Treatment } from "../api/client";
import { findStep, withRow } from "./lookTree";

/** A step of a treatment as it is made. */
export const madeStep = (
  treatment: Treatment,
  id: string,
  settings: Step["settings"] = {},
): Step => ({
  id,
  treatment: treatment.kind,
  settings: {
    ...Object.fromEntries(
      treatment.settings.flatMap((s) => (s.default === null ? [] : [[s.name, s.default]])),
    ),
    ...settings,
  },
  mix: { blend: treatment.blend, amount: treatment.amount },
  on: true,
});

/** The steps with one more, where its stage stands in the order light meets things, in `open`'s row. */
export function placedStep(
  steps: Step[],
  step: Step,
  { stages, treatments }: Catalogue,
  open: string | null,
): Step[] {
  const rank = (kind: string) =>
    stages.indexOf(treatments.find((t) => t.kind === kind)?.stage ?? "");
  const sibling = open && findStep(steps, open) ? open : "";
  return withRow(steps, sibling, (row) => {
    const after = row.findLastIndex((s) => rank(s.treatment) <= rank(step.treatment));
    return row.toSpliced(after + 1, 0, step);
  });
}
