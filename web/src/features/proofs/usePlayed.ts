import { useEffect, useState } from "react";
import { pictureOf } from "../../api/client";
import type { Wanted } from "./usePictures";

/** Two seconds of a clip of 24 frames/s, every other frame. */
const FRAMES = 24;
const EVERY = 2;
const MS = 1000 / 12;

/** Pictures of several looks played in step, round and round: all of a frame are shown at once, and
 * the first time round as soon as they are made. None while nothing is played. */
export function usePlayed(wanted: Wanted[], height: number): Record<string, string> {
  const [pictures, setPictures] = useState<Record<string, string>>({});
  const signature = JSON.stringify([height, wanted.map(({ key, look }) => [key, look.steps])]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wanted is in the signature
  useEffect(() => {
    if (!wanted.length) return;
    const away = new AbortController();
    const made: Record<string, string>[] = [];
    const make = async (n: number) => {
      const found: Record<string, string> = {};
      for (const { key, clip, frame, look } of wanted) {
        const at = (frame + EVERY * n) % clip.frames;
        const lines = Math.min(height, clip.height);
        const blob = await pictureOf(clip, look, { frame: at, height: lines }, away.signal);
        found[key] = URL.createObjectURL(blob);
      }
      return found;
    };
    const play = async () => {
      for (let n = 0; !away.signal.aborted; n = (n + 1) % FRAMES) {
        const due = performance.now() + MS;
        const all = made[n] ?? (await make(n));
        made[n] = all;
        setPictures(all);
        await new Promise((done) => setTimeout(done, Math.max(due - performance.now(), 0)));
      }
    };
    play().catch(() => undefined); // given up, or a look that can't be made
    return () => {
      away.abort();
      for (const address of made.flatMap((all) => Object.values(all))) URL.revokeObjectURL(address);
      setPictures({});
    };
  }, [signature]);
  return pictures;
}
