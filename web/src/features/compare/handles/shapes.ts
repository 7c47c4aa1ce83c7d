import type { SettingValue, Step } from "../../../api/client";

export type Point = [number, number];

export interface Size {
  width: number;
  height: number;
}

export interface Box extends Size {
  left: number;
  top: number;
}

/** The largest box of a ratio in the middle of a picture. */
export function boxOf(ratio: number, { width, height }: Size): Box {
  const wide = Math.min(width, height * ratio);
  const high = Math.min(height, width / ratio);
  return { left: (width - wide) / 2, top: (height - high) / 2, width: wide, height: high };
}

/** A step's handles: where the frame is on screen, and how what they set is written. */
export interface Shape {
  step: Step;
  box: Box;
  set: (done: boolean, ...values: [string, SettingValue][]) => void;
}

export const within = (v: number) => Math.min(Math.max(v, 0), 1);

export const placeOf = (value: unknown): Point => value as Point;

export const perCent = (v: number) => `${Math.round(100 * v)} %`;

export const placeWords = ([x, y]: Point) => `${perCent(x)} across, ${perCent(y)} down`;
