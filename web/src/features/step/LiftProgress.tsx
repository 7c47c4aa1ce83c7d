import { stopFinding, useLifting } from "../../store/lifting";
import { ProgressLine } from "../../ui/ProgressLine";

/** How far the matte of a step's shape is, while it is being found; it can be stopped. */
export function LiftProgress({ step, shape }: { step: string; shape: string }) {
  const finding = useLifting((s) => s.finding);
  if (!finding?.running || finding.step !== step || finding.shape !== shape) return null;
  return (
    <ProgressLine
      small
      says="Step"
      label={`Lifting out ${finding.title}`}
      unit="steps"
      stop="It goes on from there when it is found again"
      onStop={() => void stopFinding()}
      {...finding}
    />
  );
}
