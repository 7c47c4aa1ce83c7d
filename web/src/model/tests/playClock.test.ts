import { describe, expect, it } from "vitest";
import {
  dueAt,
  fallsBehind,
  frameAt,
  isAssured,
  newestDue,
  type PlayClock,
  smallerHeight,
  soundAction,
  soundAt,
} from "../playClock";

const clock: PlayClock = { since: 1000, start: 12, first: 10, count: 5, rate: 25 };

describe("the clock of play", () => {
  it.each([
    [1000, 0],
    [1039, 0], // 0.975 of a frame
    [1040, 1],
    [1039.5, 1], // within a fiftieth of a frame: shown now, not a tick late
    [2000, 25],
    [990, -1], // before the first frame
  ])("at %d ms frame %d after the first is due", (now, due) => {
    expect(dueAt(clock, now).due).toBe(due);
  });

  it("goes round the range from where it began", () => {
    expect([0, 1, 2, 3, 4, 5, 6].map((at) => frameAt(clock, at))).toEqual([
      12, 13, 14, 10, 11, 12, 13,
    ]);
    expect(frameAt(clock, -1)).toBe(11);
  });

  it("stays on a frame that is alone", () => {
    expect(frameAt({ ...clock, start: 10, count: 1 }, 7)).toBe(10);
  });

  it.each([
    ["full", 25, 1000, 12 / 25],
    ["full", 25, 1020, 12.5 / 25],
    ["full", 25, 1120, 10 / 25], // round to the range's beginning
    ["half", 12.5, 1080, 13 / 25], // at half speed the clip's sound goes half as fast
  ])("at %s speed the sound belongs at the picture's time", (_, rate, now, seconds) => {
    expect(soundAt({ ...clock, rate }, now, 25)).toBeCloseTo(seconds, 9);
  });

  it("is never more than a frame's time from the picture, whatever the rate", () => {
    for (const rate of [23.976, 24, 25, 29.97, 50, 60])
      for (let now = 1000; now < 4000; now += 7) {
        const each = { ...clock, count: 400, rate };
        const shown = frameAt(each, dueAt(each, now).due) / rate;
        expect(Math.abs(soundAt(each, now, rate) - shown)).toBeLessThanOrEqual(1 / rate);
      }
  });
});

describe("frames that came", () => {
  const came = [3, 4, 5, 8].map((at) => ({ at }));

  it.each([
    [2, undefined, 4, 0],
    [3, 3, 3, 1],
    [5, 5, 1, 3],
    [7, 5, 1, 3],
    [99, 8, 0, 4],
  ])(
    "with %d due the newest that is due is shown, older ones are left out",
    (due, at, left, out) => {
      const { next, rest, done } = newestDue(came, due, -1);
      expect([next?.at, rest.length, done]).toEqual([at, left, out]);
    },
  );

  it("never shows a frame before one that was shown, in whatever order they are ready", () => {
    const ready = [[0, 2, 3], [], [], [4], [], [1], [5], [7], [6]];
    let waiting: { at: number }[] = [];
    let last = -1;
    let answered = 0;
    const shown: number[] = [];
    for (const [due, came] of ready.entries()) {
      waiting = [...waiting, ...came.map((at) => ({ at }))];
      waiting.sort((a, b) => a.at - b.at);
      const { next, rest, done } = newestDue(waiting, due, last);
      waiting = rest;
      answered += done;
      last = next?.at ?? last;
      if (next) shown.push(next.at);
    }
    expect(shown).toEqual([0, 2, 3, 4, 5, 7]);
    expect(answered).toBe(8);
  });
});

describe("a play that can't keep its rate", () => {
  it.each([
    [29, 29, false], // too early to say
    [30, 7, false],
    [30, 8, true],
    [400, 90, false], // late for a while, and in step on the whole
    [400, 101, true],
  ])("of %i frames due, with %i left out, falls behind: %s", (due, leftOut, behind) => {
    expect(fallsBehind(due, leftOut)).toBe(behind);
  });

  it("goes on with pictures of an even height", () => {
    expect([540, 511, 327].map(smallerHeight)).toEqual([324, 306, 196]);
  });

  it("is whole again once what is played next is made: ten seconds of most clips, or all", () => {
    const madeFrames = (from: number, count: number) =>
      new Set(Array.from({ length: count }, (_, n) => from + n));
    const long = { ...clock, start: 390, first: 10, count: 400 };
    expect(isAssured(madeFrames(390, 20), long)).toBe(false);
    expect(isAssured(new Set([...madeFrames(390, 20), ...madeFrames(10, 219)]), long)).toBe(false);
    expect(isAssured(new Set([...madeFrames(390, 20), ...madeFrames(10, 220)]), long)).toBe(true);
    expect(isAssured(madeFrames(10, 5), clock)).toBe(true);
  });
});

describe("the sound", () => {
  const sound = { currentTime: 2, duration: 10, paused: false, ready: true };

  it.each([
    ["is left alone while it is in step", sound, 2.03, 9999, "none"],
    ["is moved once it is off by more", sound, 2.05, 9999, "move"],
    ["is moved back as well", sound, 1.9, 9999, "move"],
    ["is not moved twice within half a second", sound, 3, 400, "none"],
    ["is set going where it stands", { ...sound, paused: true }, 2, 9999, "start"],
    ["is waited for", { ...sound, ready: false, paused: true }, 5, 9999, "none"],
    ["is silent where it has ended", sound, 9.97, 9999, "pause"],
    ["stays silent there", { ...sound, paused: true }, 12, 9999, "none"],
  ] as const)("%s", (_, state, seconds, sinceLastMove, action) => {
    expect(soundAction(state, seconds, sinceLastMove)).toBe(action);
  });
});
