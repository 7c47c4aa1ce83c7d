import type { Clip, PageMemory } from "../api/client";
import { bench, setState } from "./bench";
import { pause } from "./player";

/** Where a clip was left. */
export type Left = NonNullable<PageMemory["clips"]>[string];

/** Put a clip on the bench, at a frame it has, as it was left. */
export function chooseClip(clip: Clip, left: Partial<Left> = {}) {
  pause();
  const last = clip.frames - 1;
  const within = (range: [number, number] | null | undefined): [number, number] | null =>
    range && range[0] < range[1] && range[1] <= last ? range : null;
  setState({
    clip,
    frame: Math.min(left.frame ?? bench().frame, last),
    played: new Set(),
    looked: new Set(),
    range: within(left.played),
  });
}
