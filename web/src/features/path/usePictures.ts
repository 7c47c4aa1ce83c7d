import { useEffect, useState } from "react";
import { type Look, pictureOf } from "../../api/client";
import { useBench } from "../../store/bench";

const LINES = 180;

/** A look that is to be seen, under a name of its own. */
export type Wanted = readonly [string, Look];

/** The frame at hand through looks, as addresses by their names, one after the other as they come. */
export function usePictures(wanted: readonly Wanted[]): Record<string, string> {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => (s.playing ? 0 : s.frame));
  const playing = useBench((s) => s.playing);
  const [pictures, setPictures] = useState<Record<string, string>>({});
  useEffect(() => {
    if (!clip || playing) return;
    const away = new AbortController();
    const made: string[] = [];
    const show = async () => {
      for (const [name, look] of wanted) {
        try {
          const blob = await pictureOf(clip, look, { frame, height: LINES }, away.signal);
          const address = URL.createObjectURL(blob);
          made.push(address);
          setPictures((now) => ({ ...now, [name]: address }));
        } catch {
          if (away.signal.aborted) return; // else it has no picture: a plate that is not there
        }
      }
    };
    void show();
    return () => {
      away.abort();
      for (const address of made) URL.revokeObjectURL(address);
      setPictures({});
    };
  }, [wanted, clip, frame, playing]);
  return pictures;
}
