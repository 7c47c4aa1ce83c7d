export type Compare = "plain" | "wipe" | "blink" | "beside" | "change";
export const COMPARES: Compare[] = ["plain", "wipe", "blink", "beside", "change"];
export const GAINS = [2, 4, 8, 16, 32];
export const FOOTAGE = "footage";
/** Change of the open step alone: against what stands below it. */
export const OWN = "own";

/** Which picture is on the wall, how it is compared, and which part of it is seen. */
export interface CompareSlice {
  compare: Compare;
  /** What Wipe, Blink and Beside compare with: the footage, or after a step. */
  base: string;
  /** The footage is shown for as long as a key is held. */
  holding: boolean;
  /** How far Change magnifies. */
  gain: number;
  /** What a display can't show is striped. */
  warns: boolean;
  /** What of a step is shown instead of the result: its tone window's weight, its layer
   * alone, or the highlights that its light is from. */
  examined: { step: string; show: "weight" | "layer" | "highlights" } | null;
  /** Where the wipe's edge stands, 0 left to 1 right. */
  wipe: number;
  /** Screen pixels for one of the footage; null fits the picture to the wall. */
  zoom: number | null;
  /** The middle of what is seen when that is not all, 0 to 1 across and down. */
  centre: { x: number; y: number };
  /** A control is moving: quick pictures are wanted. */
  moving: boolean;
}

export const initialCompare: CompareSlice = {
  compare: "plain",
  base: FOOTAGE,
  holding: false,
  gain: 4,
  warns: false,
  examined: null,
  wipe: 0.5,
  zoom: null,
  centre: { x: 0.5, y: 0.5 },
  moving: false,
};
