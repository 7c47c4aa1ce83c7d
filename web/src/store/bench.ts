import { create } from "zustand";
import { type CompareSlice, initialCompare } from "./slices/compare";
import { type DocumentSlice, initialDocument } from "./slices/document";
import { initialPage, type PageSlice } from "./slices/page";
import { initialPlayback, type PlaybackSlice } from "./slices/playback";
import { initialSelection, type SelectionSlice } from "./slices/selection";

export type BenchState = DocumentSlice & SelectionSlice & CompareSlice & PlaybackSlice & PageSlice;

/** The state of the bench: one store, its subjects each in a file under `slices`. */
export const useBench = create<BenchState>(() => ({
  ...initialDocument,
  ...initialSelection,
  ...initialCompare,
  ...initialPlayback,
  ...initialPage,
}));

export const setState = useBench.setState;
export const bench = useBench.getState;
