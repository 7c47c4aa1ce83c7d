import { describe, expect, it } from "vitest";
import type { ReelSound } from "../../api/client";
import { changedSound, gainOf, heardPeaks, inLanes, soundsAt, soundsSoon } from "../reelSounds";

const sound = (id: string, at: number, frames: number, more: Partial<ReelSound> = {}) =>
  ({
    id,
    name: id,
    file: "m.wav",
    clip: null,
    at,
    start: 0,
    frames,
    level: 0,
    ...more,
  }) as ReelSound;

describe("sounds of a reel", () => {
  const all = [sound("a", 0, 10), sound("b", 5, 10), sound("c", 10, 5)];

  it("are heard from their first frame to their last", () => {
    const soundsHeard = (frame: number) => soundsAt(all, frame).map(({ id }) => id);
    expect([soundsHeard(4), soundsHeard(5), soundsHeard(10), soundsHeard(15)]).toEqual([
      ["a"],
      ["a", "b"],
      ["b", "c"],
      [],
    ]);
    expect(soundsSoon(all, 4, 2).map(({ id }) => id)).toEqual(["b"]);
  });

  it("show their peaks from where they begin, as loud as they are heard", () => {
    const levels = { per_second: 2, peaks: [255, 0, 51, 102, 255, 255] };
    const heard = sound("a", 7, 20, { start: 0.5, level: -20 * Math.log10(2) });
    const shown = heardPeaks(heard, levels, 10, 4).map((peak) => Number(peak.toFixed(3)));
    expect(shown).toEqual([0, 0.1, 0.2, 0.5]);
    expect(heardPeaks(sound("a", 0, 20), levels, 10, 2)).toEqual([1, 0.4]);
    expect(heardPeaks(sound("a", 0, 50), levels, 10, 5).at(-1)).toBe(0); // the file has ended
    expect(heardPeaks(sound("a", 0, 20, { level: 20 }), levels, 10, 4)[2]).toBe(1);
  });

  it("lie in as few lanes as have room for them", () => {
    const { lanes, count } = inLanes(all);
    expect(count).toBe(2);
    expect([lanes.get("a"), lanes.get("b"), lanes.get("c")]).toEqual([0, 1, 0]);
    expect(inLanes([]).count).toBe(0);
  });

  it("are as loud as their level says: 6.02 dB is half", () => {
    expect(gainOf(sound("a", 0, 1))).toBe(1);
    expect(gainOf(sound("a", 0, 1, { level: -6.0206 }))).toBeCloseTo(0.5, 5);
  });

  it("stay within their files", () => {
    const music = sound("a", 0, 48);
    expect(changedSound(music, { start: 1 }, 2, 24)).toMatchObject({ start: 1, frames: 24 });
    expect(changedSound(music, { frames: 99 }, 2, 24).frames).toBe(48);
    expect(changedSound(music, { at: -3 }, 2, 24).at).toBe(0);
    expect(changedSound(music, { start: 9 }, 2, 24)).toMatchObject({ frames: 1 });
  });
});
