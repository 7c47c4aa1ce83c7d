import { chakra } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { ReelSound } from "../../api/client";
import { heardPeaks } from "../../model/reelSounds";
import { useClips } from "../../store/clips";
import { levelsQuery } from "../../store/reelSounds";

const Path = chakra("path");

/** The most points that a wave is drawn with. */
const POINTS = 1200;

interface SoundWaveProps {
  sound: ReelSound;
  /** Frames of the reel a second. */
  rate: number;
  width: number;
  height: number;
  /** CSS pixels from the left to so many frames after the sound's first. */
  place: (frames: number) => number;
}

/** How loud a sound is under the shots, as loud as it is heard there: the square root of its peaks,
 * so that what is soft is seen in a narrow lane. */
export function SoundWave({ sound, rate, width, height, place }: SoundWaveProps) {
  const clip = (useClips().data ?? []).find(({ id }) => id === sound.clip);
  const { data: levels } = useQuery(levelsQuery(sound, clip?.reading));
  if (!levels) return null;
  const parts = Math.min(Math.ceil((sound.frames / rate) * levels.per_second), POINTS);
  const points = heardPeaks(sound, levels, rate, parts).map(
    (peak, n) => [place(((n + 0.5) * sound.frames) / parts), (peak ** 0.5 * height) / 2] as const,
  );
  const line = (side: 1 | -1) =>
    points.map(([x, y]) => `${x.toFixed(1)} ${(height / 2 + side * y).toFixed(1)}`);
  return (
    <svg
      width={width}
      height={height}
      aria-hidden="true"
      style={{ position: "absolute", top: 0, left: 0, pointerEvents: "none" }}
    >
      <Path d={`M${[...line(-1), ...line(1).reverse()].join("L")}Z`} fill="wave" />
    </svg>
  );
}
