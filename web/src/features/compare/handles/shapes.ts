import type { SettingValue, Step } from "../../../api/client";
import type { Box, Point } from "../../../model/frames";

export type { Box, Point, Size } from "../../../model/frames";

/** A step's handles: where the frame is on screen, and how what they set is written. */
export interface Shape {
  step: Step;
  box: Box;
  set: (done: boolean, ...values: [string, SettingValue][]) => void;
  /** What the keys of a setting are called, where that is not its own name. */
  keyed?: (name: string) => string;
  /** Corners' radius as a part of the shorter half axis: of a box and not an ellipse. */
  round?: number;
}

export const clampUnit = (v: number) => Math.min(Math.max(v, 0), 1);

export const placeOf = (value: unknown): Point => value as Point;

export const perCent = (v: number) => `${Math.round(100 * v)} %`;

export const placeWords = ([x, y]: Point) => `${perCent(x)} across, ${perCent(y)} down`;
