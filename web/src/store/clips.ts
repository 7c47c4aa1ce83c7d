import type { Clip } from "../api/client";
import { bench, put } from "./bench";
import { pause } from "./player";
import { useWanted } from "./renders";

/** Put a clip on the bench, at a frame it has. */
export function chooseClip(clip: Clip, frame = bench().frame) {
  pause();
  put({
    clip,
    frame: Math.min(frame, clip.frames - 1),
    played: new Set(),
    looked: new Set(),
    range: null,
  });
  useWanted.setState({ first: null, last: null });
}
