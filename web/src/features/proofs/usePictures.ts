import { useEffect, useState } from "react";
import { busyWith } from "../../api/busy";
import { type Clip, type Look, pictureOf } from "../../api/client";

/** A picture that is wanted: of a look on a frame, under a name of its own. */
export interface Wanted {
  key: string;
  clip: Clip;
  frame: number;
  look: Look;
}

/** How many are asked for at once: while one is made, others are on their way, or are taken apart. */
const AT_ONCE = 4;

/** Pictures that come within so many milliseconds are shown together: the sheet is drawn anew for each
 * time that some come. */
const TOGETHER_MS = 80;

/** Pictures as addresses by their keys, in the order they are wanted in, as they come. Those that are
 * wanted no longer are let go. */
export function usePictures(wanted: Wanted[], height: number): Record<string, string> {
  const [pictures, setPictures] = useState<Record<string, string>>({});
  const signature = JSON.stringify([height, wanted.map(({ key, look }) => [key, look.steps])]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wanted is in the signature
  useEffect(() => {
    if (!height) return;
    const away = new AbortController();
    const made: string[] = [];
    const left = [...wanted];
    let come: Record<string, string> = {};
    let showing: ReturnType<typeof setTimeout> | undefined;
    const show = () => {
      const more = come;
      come = {};
      showing = undefined;
      setPictures((now) => ({ ...now, ...more }));
    };
    const work = async () => {
      for (let next = left.shift(); next; next = left.shift()) {
        const { key, clip, frame, look } = next;
        try {
          const lines = Math.min(height, clip.height);
          const blob = await pictureOf(clip, look, { frame, height: lines }, away.signal);
          if (away.signal.aborted) return;
          const address = URL.createObjectURL(blob);
          made.push(address);
          come[key] = address;
          showing ??= setTimeout(show, TOGETHER_MS);
        } catch {
          if (away.signal.aborted) return; // else it has none: a plate that is not there
        }
      }
    };
    void busyWith(Promise.all(Array.from({ length: AT_ONCE }, work)));
    return () => {
      away.abort();
      clearTimeout(showing);
      for (const address of made) URL.revokeObjectURL(address);
      setPictures({});
    };
  }, [signature]);
  return pictures;
}
