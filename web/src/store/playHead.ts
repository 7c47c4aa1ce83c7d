import { useLayoutEffect } from "react";
import { bench, useBench } from "./bench";
import { reelState, useReel } from "./reel";

/**
 * Calls `draw` with the frame at the play head, and again at each other one: what follows play
 * changes its own node, and nothing is rendered anew twenty-four times a second.
 */
export function usePlayHead(draw: (frame: number) => void) {
  useLayoutEffect(() => {
    draw(bench().frame);
    return useBench.subscribe((now, before) => {
      if (now.frame !== before.frame) draw(now.frame);
    });
  });
}

/** The same for the reel's play head. */
export function useReelHead(draw: (frame: number) => void) {
  useLayoutEffect(() => {
    draw(reelState().frame);
    return useReel.subscribe((now, before) => {
      if (now.frame !== before.frame) draw(now.frame);
    });
  });
}
