import type { Levels, ReelSound } from "../api/client";

/** What is heard under a reel's shots; frames are the reel's, counted from 0. */

/** A sound as loud as it says: what its samples are multiplied with. */
export const gainOf = ({ level }: ReelSound): number => 10 ** (level / 20);

/** The sounds that are heard at a frame. */
export const soundsAt = (sounds: ReelSound[], frame: number): ReelSound[] =>
  sounds.filter(({ at, frames }) => at <= frame && frame < at + frames);

/** The sounds that begin within so many frames after one. */
export const soundsSoon = (sounds: ReelSound[], frame: number, within: number): ReelSound[] =>
  sounds.filter(({ at }) => frame < at && at <= frame + within);

/** The lane of each sound, the first that has room for it, and how many lanes there are. */
export function inLanes(sounds: ReelSound[]): { lanes: Map<string, number>; count: number } {
  const ends: number[] = [];
  const lanes = new Map<string, number>();
  for (const { id, at, frames } of [...sounds].sort((a, b) => a.at - b.at)) {
    const free = ends.findIndex((end) => end <= at);
    const lane = free < 0 ? ends.length : free;
    ends[lane] = at + frames;
    lanes.set(id, lane);
  }
  return { lanes, count: ends.length };
}

/** The peaks of what is heard of a sound, as loud as it is heard: 0 to 1, in equal parts. */
export function heardPeaks(
  sound: ReelSound,
  { per_second, peaks }: Levels,
  rate: number,
  parts: number,
): number[] {
  const from = sound.start * per_second;
  const each = ((sound.frames / rate) * per_second) / parts;
  return Array.from({ length: parts }, (_, n) => {
    const first = Math.floor(from + n * each);
    const last = Math.max(Math.ceil(from + (n + 1) * each), first + 1);
    return Math.min((Math.max(0, ...peaks.slice(first, last)) / 255) * gainOf(sound), 1);
  });
}

/** A sound with other places, within what a file of so many seconds has. */
export function changedSound(
  sound: ReelSound,
  change: Partial<ReelSound>,
  seconds: number,
  rate: number,
): ReelSound {
  const next = { ...sound, ...change };
  const at = Math.max(0, Math.round(next.at));
  const start = Math.min(Math.max(next.start, 0), Math.max(seconds - 1 / rate, 0));
  const longest = Math.max(1, Math.round((seconds - start) * rate));
  const frames = Math.min(Math.max(1, Math.round(next.frames)), longest);
  return { ...next, at, start, frames };
}
