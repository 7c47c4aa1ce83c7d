import { expect, it } from "vitest";
import type { ReelItem } from "../../api/client";
import { placeItems } from "../reel";
import { frameUnder, headAt, laidOut, placeUnder } from "../reelStrip";

const gaps = (...lengths: number[]) =>
  placeItems(lengths.map((frames, n): ReelItem => ({ kind: "gap", id: `${n}`, frames })));

it("shots are as wide as they are long, where all can be seen", () => {
  const all = gaps(10, 30, 60);
  const strip = laidOut(all, 500);
  expect(strip.cells).toEqual([
    { left: 0, width: 50 },
    { left: 50, width: 150 },
    { left: 200, width: 300 },
  ]);
  expect(strip.whole).toBe(500);
});

it("many, or very short ones, are alike and go beyond the room", () => {
  const many = laidOut(gaps(...Array.from({ length: 100 }, () => 5)), 1000);
  expect(many.whole).toBe(6400);
  const uneven = laidOut(gaps(1, 999), 1000);
  expect(uneven.cells.map(({ width }) => width)).toEqual([500, 500]);
});

it("a place is a frame, and a frame a place", () => {
  const all = gaps(10, 30, 60);
  const strip = laidOut(all, 500);
  for (const frame of [0, 9, 10, 39, 40, 99])
    expect(frameUnder(all, strip, headAt(all, strip, frame) + 0.01)).toBe(frame);
  expect(frameUnder(all, strip, -5)).toBe(0);
  expect(frameUnder(all, strip, 9999)).toBe(99);
});

it("what is let go is put before the item whose middle is next", () => {
  const strip = laidOut(gaps(10, 30, 60), 500);
  expect([0, 30, 120, 130, 499].map((x) => placeUnder(strip, x))).toEqual([0, 1, 1, 2, 3]);
});
