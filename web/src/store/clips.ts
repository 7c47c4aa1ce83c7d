import { useQuery } from "@tanstack/react-query";
import type { Clip, PageMemory } from "../api/client";
import { listClips } from "../api/lists";
import { applyFitting } from "../model/fittings";
import { bench, setState } from "./bench";
import { pause } from "./player";

/** The clips of the project. */
export const useClips = () => useQuery({ queryKey: ["clips"], queryFn: listClips });

/** Where a clip was left. */
export type Left = NonNullable<PageMemory["clips"]>[string];

/** Put a clip on the bench, at a frame it has, as it was left. */
export function chooseClip(clip: Clip, left: Partial<Left> = {}) {
  pause();
  const last = clip.frames - 1;
  const rangeWithin = (range: [number, number] | null | undefined): [number, number] | null =>
    range && range[0] < range[1] && range[1] <= last ? range : null;
  const { shared, fittings } = bench();
  setState({
    clip,
    look: shared && applyFitting(shared, fittings[clip.id]),
    frame: Math.min(left.frame ?? bench().frame, last),
    played: new Set(),
    looked: new Set(),
    range: rangeWithin(left.played),
  });
}
