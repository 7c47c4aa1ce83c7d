import { describe, expect, it } from "vitest";
import type { Keyframe, Step } from "../../api/client";
import { addedBurst, burstsOf, movedBurst, withBurst, withoutBurst } from "../bursts";
import {
  keyedNames,
  keyFrames,
  keysOf,
  movedKeys,
  namesAt,
  pinnedAt,
  plainOf,
  toggledKeys,
  withEase,
  withoutKeys,
  withValue,
} from "../keyframes";

const step = (keys: Record<string, Keyframe[]> = {}, bursts: Step["bursts"] = []): Step => ({
  id: "glow-1",
  treatment: "glow",
  settings: { spread: 20, gain: 1 },
  mix: { blend: "screen", amount: 0.5 },
  keys,
  bursts,
  on: true,
});
const key = (frame: number, value: number, ease: Keyframe["ease"] = "straight"): Keyframe => ({
  frame,
  value,
  ease,
});
const keyed = step({ spread: [key(0, 10), key(10, 30, "hold")], "mix.amount": [key(10, 1)] });
const framesOf = (s: Step, name: string) => keysOf(s, name).map((k) => k.frame);

describe("keys", () => {
  it("are known by setting and by frame", () => {
    expect(keyedNames(keyed)).toEqual(["spread", "mix.amount"]);
    expect(keyFrames(keyed, null)).toEqual([0, 10]);
    expect(keyFrames(keyed, "mix.amount")).toEqual([10]);
    expect(namesAt(keyed, 10, null)).toEqual(["spread", "mix.amount"]);
    expect(namesAt(keyed, 0, null)).toEqual(["spread"]);
  });

  it("take a value at the frame alone where the setting is keyed, and lead on as before", () => {
    const changed = withValue(keyed, "spread", 99, 4);
    expect(keysOf(changed, "spread")).toEqual([key(0, 10), key(4, 99), key(10, 30, "hold")]);
    expect(keysOf(withValue(keyed, "spread", 5, 12), "spread").at(-1)).toEqual(key(12, 5, "hold"));
    expect(withValue(keyed, "gain", 2, 4).settings.gain).toBe(2);
    expect(keyedNames(withValue(keyed, "gain", 2, 4))).not.toContain("gain");
  });

  it("of the mix change the mix", () => {
    expect(plainOf(keyed, "mix.amount")).toBe(0.5);
    expect(withValue(step(), "mix.amount", 0.25, 0).mix.amount).toBe(0.25);
    expect(keysOf(withValue(keyed, "mix.amount", 0.25, 3), "mix.amount")[0]?.frame).toBe(3);
  });

  it("are set as the step is shown there, and taken out again by the same key", () => {
    const shown = { ...keyed, settings: { ...keyed.settings, spread: 17 } };
    const set = toggledKeys(keyed, shown, ["spread"], 5);
    expect(keysOf(set, "spread")).toEqual([key(0, 10), key(5, 17), key(10, 30, "hold")]);
    expect(toggledKeys(set, shown, ["spread"], 5)).toEqual(keyed);
    expect(framesOf(pinnedAt(step(), step(), ["gain"], 7), "gain")).toEqual([7]);
  });

  it("leave their value when the last is taken out", () => {
    const without = withoutKeys(keyed, ["mix.amount"], 10);
    expect(keyedNames(without)).toEqual(["spread"]);
    expect(without.mix.amount).toBe(1);
  });

  it("are moved or copied, and never onto another", () => {
    expect(framesOf(movedKeys(keyed, null, 10, 14), "mix.amount")).toEqual([14]);
    expect(framesOf(movedKeys(keyed, "spread", 10, 14, true), "spread")).toEqual([0, 10, 14]);
    expect(movedKeys(keyed, "spread", 10, 0)).toBe(keyed);
    expect(movedKeys(keyed, "spread", 10, 10)).toBe(keyed);
  });

  it("ease as they are given", () => {
    const eased = withEase(keyed, null, 10, [0.4, 0, 0.2, 1]);
    expect(keysOf(eased, "spread")[1]?.ease).toEqual([0.4, 0, 0.2, 1]);
    expect(keysOf(eased, "spread")[0]?.ease).toBe("straight");
    expect(keysOf(eased, "mix.amount")[0]?.ease).toEqual([0.4, 0, 0.2, 1]);
  });
});

describe("bursts", () => {
  const bursts = step({}, [
    { from: 10, to: 19, ramp: 2 },
    { from: 30, to: 39, ramp: 0 },
  ]);
  const spans = (s: Step) => burstsOf(s).map((b) => [b.from, b.to]);

  it.each([
    [
      50,
      55,
      [
        [10, 19],
        [30, 39],
        [50, 55],
      ],
    ],
    [
      55,
      50,
      [
        [10, 19],
        [30, 39],
        [50, 55],
      ],
    ],
    [
      15,
      25,
      [
        [10, 25],
        [30, 39],
      ],
    ],
    [19, 30, [[10, 39]]],
    [0, 99, [[0, 99]]],
  ])("marked from %d to %d become one with those they touch", (from, to, expected) => {
    expect(spans(addedBurst(bursts, from, to))).toEqual(expected);
  });

  it("keep the ramp of what they touch", () => {
    expect(burstsOf(addedBurst(bursts, 15, 25))[0]?.ramp).toBe(2);
  });

  it.each([
    [{ to: 60 }, [10, 29]],
    [{ from: -5 }, [0, 19]],
    [{ from: 25 }, [19, 25]],
  ])(
    "of which an end is dragged stay in order, in the clip and off their neighbours",
    (change, to) => {
      expect(spans(withBurst(bursts, 0, change, 100))[0]).toEqual(to);
    },
  );

  it.each([
    [0, 5, [15, 24]],
    [0, 50, [20, 29]],
    [1, -50, [20, 29]],
    [1, 500, [90, 99]],
  ])("of which number %d is moved by %d keep their length and stay off others", (at, by, to) => {
    expect(spans(movedBurst(bursts, at, by, 100))[at]).toEqual(to);
  });

  it("are taken out by number", () => {
    expect(spans(withoutBurst(bursts, 0))).toEqual([[30, 39]]);
  });
});
