import { isWindow } from "../model/frames";
import { findStep } from "../model/lookTree";
import { inputOf } from "../model/stepInput";
import type { BenchState } from "./bench";

/**
 * The step after which the wall shows the picture while a crop or letterbox is open, so that what it
 * cuts off is seen; null where the result is shown.
 */
export function beforeWindow({
  look,
  open,
  compare,
  holding,
  examined,
  playing,
}: BenchState): string | null {
  const step = look && findStep(look.steps, open);
  const plain = compare === "plain" && !holding && !examined && !playing;
  return look && step?.on && isWindow(step) && plain ? inputOf(step.id, look.steps) : null;
}
