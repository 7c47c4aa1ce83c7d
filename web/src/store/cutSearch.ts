import { create } from "zustand";
import { api, type Boundaries, type Boundary, type ReelShot, unwrap } from "../api/client";
import { cutAtFrames } from "../model/reel";
import { countWords } from "../model/words";
import { follow } from "./following";
import { notice } from "./notices";
import { editReel, newItemId } from "./reel";

/** The cuts within a shot that is a whole take of many: found, corrected, and made. */
interface CutSearch {
  /** The shot that is looked through. */
  shot: ReelShot | null;
  /** How far that is; what was found, once it has ended. */
  status: Boundaries | null;
  /** By how much a cut is more of a change than the frames beside it, at least. */
  threshold: number;
  /** Which places were chosen or left by hand, by their frame. */
  byHand: Record<number, boolean>;
}

const NONE: CutSearch = { shot: null, status: null, threshold: 0, byHand: {} };

export const useCutSearch = create<CutSearch>(() => NONE);

/** Look through a shot for cuts; what another search found is put away. */
export async function searchCuts(shot: ReelShot) {
  if (shot.clip === null) return notice("reel", `${shot.name}: its media is missing.`);
  useCutSearch.setState({ ...NONE, shot });
  const mine = () => useCutSearch.getState().shot === shot;
  try {
    const body = { clip: shot.clip, first: shot.first, last: shot.last };
    const begun = await unwrap(api.POST("/api/v1/boundaries/finding", { body }));
    if (!mine()) return;
    useCutSearch.setState({ status: begun, threshold: begun.usual });
    await follow(
      () => unwrap(api.GET("/api/v1/boundaries/finding")),
      (status) => {
        if (!mine()) return false;
        if (!status) throw new Error("The server was started anew: find cuts once more.");
        if (status.error) throw new Error(status.error);
        useCutSearch.setState({ status });
        return true;
      },
    );
  } catch (error) {
    if (!mine()) return;
    notice("reel", error);
    useCutSearch.setState(NONE);
  }
}

/** Stop looking; what was found till then is shown. */
export async function stopCutSearch() {
  try {
    await unwrap(api.POST("/api/v1/boundaries/finding/stop"));
  } catch (error) {
    notice("reel", error);
  }
}

export function leaveCutSearch() {
  if (useCutSearch.getState().status?.running) void stopCutSearch();
  useCutSearch.setState(NONE);
}

/** Whether a place is to be cut at. */
export const isTaken = (
  { frame, jump }: Boundary,
  threshold: number,
  byHand: Record<number, boolean>,
) => byHand[frame] ?? jump >= threshold;

/** Cut the shot at the places that are taken. */
export function cutAtFound() {
  const { shot, status, threshold, byHand } = useCutSearch.getState();
  if (!shot || !status) return;
  const frames = status.boundaries
    .filter((each) => isTaken(each, threshold, byHand))
    .map(({ frame }) => frame);
  editReel(`cutting ${shot.name} at ${countWords(frames.length, "place")}`, (items) =>
    cutAtFrames(items, shot.id, frames, newItemId),
  );
  useCutSearch.setState(NONE);
}
