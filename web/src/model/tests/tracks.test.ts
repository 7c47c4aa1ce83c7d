import { describe, expect, it } from "vitest";
import type { Shape } from "../../api/client";
import type { Point } from "../frames";
import { handMatrix, IDENTITY, type Matrix, mapped, matrixAt, ridden, runsOf } from "../tracks";

const ASPECT = 16 / 9;
const shift = (x: number, y: number): Matrix => [
  [1, 0, x],
  [0, 1, y],
  [0, 0, 1],
];
const ellipse = (centre: Point, size: Point = [0.1, 0.2], turn = 0) =>
  ({ id: "head", kind: "ellipse", centre, size, turn, feather: 0 }) as unknown as Shape;
const frames = [3, 4, 7].map((frame) => ({
  frame,
  matrix: shift(frame / 10, 0),
  sure: frame === 7 ? 0.5 : 1,
  by_hand: false,
}));

describe("a track", () => {
  it("stays where it was where it is lost, and before its first frame", () => {
    expect([0, 3, 5, 9].map((n) => mapped(matrixAt(frames, n), [0, 0])[0])).toEqual([
      0.3, 0.3, 0.4, 0.7,
    ]);
    expect(matrixAt([], 3)).toBe(IDENTITY);
  });

  it("is drawn as runs of frames that are as sure", () => {
    expect(runsOf(frames)).toEqual([
      { from: 3, to: 4, sure: true },
      { from: 7, to: 7, sure: false },
    ]);
  });
});

/** A turn and an enlargement about a place, on a frame of 16 to 9. */
function turned(degrees: number, size: number, about: Point): Matrix {
  const [c, s] = [
    size * Math.cos((degrees * Math.PI) / 180),
    size * Math.sin((degrees * Math.PI) / 180),
  ];
  const [x, y] = [about[0] * ASPECT, about[1]];
  return [
    [c, -s / ASPECT, (x - c * x + s * y) / ASPECT],
    [s * ASPECT, c, y - s * x - c * y],
    [0, 0, 1],
  ];
}

describe("a shape that rides", () => {
  it("is moved, turned and sized with its part", () => {
    const moved = ridden(ellipse([0.5, 0.5]), turned(30, 1.5, [0.5, 0.5]), ASPECT);
    expect(moved.centre).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.5, 6)]);
    expect(moved.size).toEqual([expect.closeTo(0.15, 5), expect.closeTo(0.3, 5)]);
    expect(moved.turn).toBeCloseTo(30, 4);
  });

  it("has its path's handles turned", () => {
    const drawn = { id: "a", kind: "drawn", points: [[0.5, 0.5, 0, -0.1, 0.1, 0]] };
    const moved = ridden(drawn as unknown as Shape, turned(90, 1, [0.5, 0.5]), ASPECT);
    const [, , inX, inY, outX, outY] = (moved.points as number[][])[0] as number[];
    expect([inX, inY]).toEqual([expect.closeTo(0.1 / ASPECT, 6), expect.closeTo(0, 6)]);
    expect([outX, outY]).toEqual([expect.closeTo(0, 6), expect.closeTo(0.1 * ASPECT, 6)]);
  });

  it("of a wash has both of its ends moved", () => {
    const wash = { id: "a", kind: "wash", from: [0.1, 0.2], to: [0.3, 0.4] } as unknown as Shape;
    const moved = ridden(wash, shift(0.1, 0.1), ASPECT);
    expect(moved.to).toEqual([0.4, 0.5]);
  });
});

describe("what a hand puts right", () => {
  it("is the motion by which the shape came there", () => {
    const was = ellipse([0.4, 0.4], [0.1, 0.2], 10);
    for (const matrix of [turned(25, 0.8, [0.3, 0.6]), shift(0.2, -0.1)]) {
      const now = ridden(was, matrix, ASPECT);
      const found = handMatrix(was, now, "turn", ASPECT).flat();
      matrix.flat().forEach((v, i) => {
        expect(found[i]).toBeCloseTo(v, 5);
      });
    }
  });

  it("is a shift alone where the part is only shifted", () => {
    const now = ellipse([0.6, 0.5], [0.3, 0.3], 40);
    const found = handMatrix(ellipse([0.4, 0.4]), now, "shift", ASPECT);
    expect(mapped(found, [0, 0])).toEqual([expect.closeTo(0.2, 9), expect.closeTo(0.1, 9)]);
    expect(found[0].slice(0, 2)).toEqual([1, expect.closeTo(0, 9)]);
  });

  it("is told of paths by their points", () => {
    const path = [
      [0.2, 0.2, 0, 0, 0, 0],
      [0.5, 0.2, 0, 0, 0, 0],
      [0.4, 0.6, 0, 0, 0, 0],
    ];
    const was = { id: "a", kind: "drawn", points: path } as unknown as Shape;
    const now = ridden(was, turned(-15, 1.2, [0.1, 0.1]), ASPECT);
    const found = handMatrix(was, now, "corners", ASPECT);
    expect(mapped(found, [0.9, 0.9])).toEqual(
      mapped(turned(-15, 1.2, [0.1, 0.1]), [0.9, 0.9]).map((v) => expect.closeTo(v, 6)),
    );
  });
});
