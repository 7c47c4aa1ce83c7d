import { bench, setState } from "./bench";

/** The frame on the wall, and the frames that are played round and round. */

export function goTo(frame: number) {
  const clip = bench().clip;
  if (clip) setState({ frame: Math.min(Math.max(Math.round(frame), 0), clip.frames - 1) });
}

/** Have the range that is played begin, or end, at a frame; all of the clip is no range. */
export function setRange(which: "first" | "last", frame: number) {
  const { clip, range } = bench();
  if (!clip) return;
  const [first, last] = range ?? [0, clip.frames - 1];
  const next: [number, number] = which === "first" ? [frame, last] : [first, frame];
  playOver(Math.min(...next), Math.max(...next));
}

export function playOver(first: number, last: number) {
  const { clip } = bench();
  const whole = !clip || (first <= 0 && last >= clip.frames - 1);
  setState({ range: whole || last <= first ? null : [first, last] });
}
