import type { Step } from "../../api/client";
import { keysOf } from "../../model/keyframes";
import { useClips } from "../../store/clips";
import { findEvenAmounts } from "../../store/evenAmounts";
import { Measuring } from "./Measuring";

/** Has the step do on each clip what it does on this one, by its amount. */
export function EvenAmounts({ step }: { step: Step }) {
  const clips = useClips().data?.length ?? 0;
  const keyed = keysOf(step, "mix.amount").length > 0;
  if (clips < 2) return null;
  return (
    <Measuring
      name="Fit to each clip…"
      title={
        keyed
          ? "Its amount is keyed: there is none to be fitted"
          : "Measure what it does on each clip, and try amounts with which it does as much as here"
      }
      says="Measuring the clips"
      disabled={keyed}
      onMeasure={(onPart, signal) => findEvenAmounts(step.id, step.mix.amount ?? 1, onPart, signal)}
    />
  );
}
