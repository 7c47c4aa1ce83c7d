import type { Clip } from "../api/client";
import { bench, setState } from "./bench";
import { pause } from "./player";
import { useRenderOptions } from "./renders";

/** Put a clip on the bench, at a frame it has. */
export function chooseClip(clip: Clip, frame = bench().frame) {
  pause();
  setState({
    clip,
    frame: Math.min(frame, clip.frames - 1),
    played: new Set(),
    looked: new Set(),
    range: null,
  });
  useRenderOptions.setState({ first: null, last: null });
}
