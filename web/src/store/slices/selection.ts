import type { Value } from "../../api/client";

/** A place of the picture is wanted: of the picture after that step. */
export interface Picking {
  prompt: string;
  after: string;
  take: (value: Value) => void;
}

/** What of the open step's time is picked: its keys at a frame (of one setting, or all), or a burst. */
export type Picked =
  | { kind: "keys"; frame: number; name: string | null }
  | { kind: "burst"; at: number };

/** What an open step is asked: what it does, where it shows, how it is mixed back, and when. */
export type Question = "what" | "where" | "mixed" | "when";
export const QUESTIONS: Question[] = ["what", "where", "mixed", "when"];

/** What of the look is open, chosen or about to be picked. */
export interface SelectionSlice {
  /** The id of the step whose settings are shown. */
  open: string | null;
  /** Which of an open step's four pages is shown. */
  question: Question;
  /** The id of the shape of the open step's mask that is set. */
  shape: string | null;
  /** A path is being drawn on the picture, for the mask of the open step. */
  drawing: boolean;
  /** Steps that are to become a bundle. */
  chosen: Set<string>;
  picking: Picking | null;
  picked: Picked | null;
  /** Every keyed setting has a lane of its own. */
  lanes: boolean;
  /** Bursts are about to be made by rule. */
  bursting: boolean;
  /** Where the burst begins that is being marked. */
  marking: number | null;
  /** Starter looks are shown instead of the path. */
  starters: boolean;
}

export const initialSelection: SelectionSlice = {
  open: null,
  question: "what",
  shape: null,
  drawing: false,
  chosen: new Set(),
  picking: null,
  picked: null,
  lanes: false,
  bursting: false,
  marking: null,
  starters: false,
};
