import type { Step } from "../api/client";
import { burstsOf } from "./bursts";
import { keyFrames } from "./keyframes";
import { allSteps } from "./lookTree";

/** The steps whose keys or bursts name frames that a clip of so many does not have. */
export const beyondEnd = (steps: Step[], frames: number): Step[] =>
  allSteps(steps).filter(
    (step) =>
      burstsOf(step).some((burst) => burst.to >= frames) ||
      keyFrames(step, null).some((frame) => frame >= frames),
  );
