import { addedBurst } from "../model/bursts";
import { findStep } from "../model/lookTree";
import { bench, setState } from "./bench";
import { changeStep } from "./edits";

/** Frames of a burst that is only tapped. */
const TAPPED = 6;

/** A burst of the open step begins at the play head, or ends there. */
export function markBurst(begin: boolean) {
  const { look, open, frame, marking, clip } = bench();
  const step = look && findStep(look.steps, open);
  if (!step || !clip) return;
  if (begin) {
    setState({ marking: frame });
    return;
  }
  if (marking === null) return;
  setState({ marking: null });
  const tapped = frame >= marking && frame < marking + TAPPED;
  const last = tapped ? Math.min(marking + TAPPED, clip.frames) - 1 : frame;
  changeStep(step.id, (s) => addedBurst(s, marking, last));
}
