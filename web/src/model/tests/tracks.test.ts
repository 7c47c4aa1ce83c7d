import { describe, expect, it } from "vitest";
import type { Shape } from "../../api/client";
import type { Point } from "../frames";
import {
  handMatrix,
  IDENTITY,
  inverse,
  type Matrix,
  mapPoint,
  matrixAt,
  matrixWithin,
  middleOf,
  moveBy,
  riddenSettings,
  rideShape,
  runsOf,
  seenFrame,
  shotFrame,
} from "../tracks";

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
    expect([0, 3, 5, 9].map((n) => mapPoint(matrixAt(frames, n), [0, 0])[0])).toEqual([
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
function rotationMatrix(degrees: number, size: number, about: Point): Matrix {
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
    const moved = rideShape(
      ellipse([0.5, 0.5]),
      moveBy(rotationMatrix(30, 1.5, [0.5, 0.5])),
      ASPECT,
    );
    expect(moved.centre).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.5, 6)]);
    expect(moved.size).toEqual([expect.closeTo(0.15, 5), expect.closeTo(0.3, 5)]);
    expect(moved.turn).toBeCloseTo(30, 4);
  });

  it("has its path's handles turned", () => {
    const drawn = { id: "a", kind: "drawn", points: [[0.5, 0.5, 0, -0.1, 0.1, 0]] };
    const moved = rideShape(
      drawn as unknown as Shape,
      moveBy(rotationMatrix(90, 1, [0.5, 0.5])),
      ASPECT,
    );
    const [, , inX, inY, outX, outY] = (moved.points as number[][])[0] as number[];
    expect([inX, inY]).toEqual([expect.closeTo(0.1 / ASPECT, 6), expect.closeTo(0, 6)]);
    expect([outX, outY]).toEqual([expect.closeTo(0, 6), expect.closeTo(0.1 * ASPECT, 6)]);
  });

  it("of a wash has both of its ends moved", () => {
    const wash = { id: "a", kind: "wash", from: [0.1, 0.2], to: [0.3, 0.4] } as unknown as Shape;
    const moved = rideShape(wash, moveBy(shift(0.1, 0.1)), ASPECT);
    expect(moved.to).toEqual([0.4, 0.5]);
  });
});

describe("a treatment that rides", () => {
  it("has its place moved, and is turned and sized where it can be", () => {
    const focus = { centre: [0.5, 0.5], size: [0.1, 0.2], turn: 170 };
    const moved = riddenSettings(focus as never, moveBy(rotationMatrix(20, 2, [0.5, 0.5])), ASPECT);
    expect(moved.size).toEqual([expect.closeTo(0.2, 5), expect.closeTo(0.4, 5)]);
    expect(moved.turn).toBeCloseTo(-170, 4);
    const plate = { place: [0.2, 0.3], scale: 0.5, turn: 0 };
    const laid = riddenSettings(plate as never, moveBy(shift(0.1, 0.2)), ASPECT);
    expect(laid.place).toEqual([expect.closeTo(0.3, 9), 0.5]);
    expect(laid.scale).toBeCloseTo(0.5, 6);
  });

  it("comes in further along its edge", () => {
    const leak = (from_edge: string) => ({ from_edge, position: 0.3 }) as never;
    expect(riddenSettings(leak("left"), moveBy(shift(0.1, 0.2)), ASPECT).position).toBe(0.5);
    expect(riddenSettings(leak("bottom"), moveBy(shift(0.1, 0.2)), ASPECT).position).toBeCloseTo(
      0.4,
      9,
    );
    expect(riddenSettings(leak("top left"), moveBy(shift(0.1, 0.2)), ASPECT).position).toBe(0.3);
    const lobe = { from_edge: "top", position: 0.3, reach: 0.5, width: 0.3, light: 1 };
    const placed = { from_edge: "left", position: 0.3, placed: [lobe] } as never;
    expect(riddenSettings(placed, moveBy(shift(0.1, 0.2)), ASPECT).placed).toEqual([
      { ...lobe, position: expect.closeTo(0.4, 9) },
    ]);
  });

  it("is put back where it was without its ride", () => {
    const matrix = rotationMatrix(33, 1.3, [0.2, 0.7]);
    const focus = { centre: [0.4, 0.6], size: [0.1, 0.2], turn: 12 } as never;
    const back = riddenSettings(
      riddenSettings(focus, moveBy(matrix), ASPECT),
      moveBy(inverse(matrix)),
      ASPECT,
    );
    expect(back.centre).toEqual([expect.closeTo(0.4, 6), expect.closeTo(0.6, 6)]);
    expect(back.turn).toBeCloseTo(12, 3);
  });

  it("in a part of the frame moves by the same on screen", () => {
    const part = { left: 100, top: 50, width: 200, height: 100 };
    const whole = { left: 0, top: 0, width: 400, height: 200 };
    const [x, y] = mapPoint(matrixWithin(shift(0.1, 0.2), part, whole), [0.5, 0.5]);
    expect([x * 200, y * 100]).toEqual([expect.closeTo(140, 6), expect.closeTo(90, 6)]);
  });
});

describe("frames as they were shot", () => {
  it("are those that a clip at another speed shows", () => {
    const slow = { reading: { speed: 0.5 } } as never;
    expect([0, 1, 2, 3].map((n) => shotFrame(slow, n))).toEqual([0, 0, 1, 1]);
    expect([0, 1, 2].map((n) => seenFrame(slow, n))).toEqual([0, 2, 4]);
    expect(shotFrame({ reading: {} } as never, 7)).toBe(7);
  });
});

describe("what a hand puts right", () => {
  it("is the motion by which the shape came there", () => {
    const was = ellipse([0.4, 0.4], [0.1, 0.2], 10);
    for (const matrix of [rotationMatrix(25, 0.8, [0.3, 0.6]), shift(0.2, -0.1)]) {
      const now = rideShape(was, moveBy(matrix), ASPECT);
      const found = handMatrix(was, now, "turn", ASPECT).flat();
      matrix.flat().forEach((v, i) => {
        expect(found[i]).toBeCloseTo(v, 5);
      });
    }
  });

  it("is a shift alone where the part is only shifted", () => {
    const now = ellipse([0.6, 0.5], [0.3, 0.3], 40);
    const found = handMatrix(ellipse([0.4, 0.4]), now, "shift", ASPECT);
    expect(mapPoint(found, [0, 0])).toEqual([expect.closeTo(0.2, 9), expect.closeTo(0.1, 9)]);
    expect(found[0].slice(0, 2)).toEqual([1, expect.closeTo(0, 9)]);
  });

  it("is told of paths by their points", () => {
    const path = [
      [0.2, 0.2, 0, 0, 0, 0],
      [0.5, 0.2, 0, 0, 0, 0],
      [0.4, 0.6, 0, 0, 0, 0],
    ];
    const was = { id: "a", kind: "drawn", points: path } as unknown as Shape;
    const now = rideShape(was, moveBy(rotationMatrix(-15, 1.2, [0.1, 0.1])), ASPECT);
    const found = handMatrix(was, now, "corners", ASPECT);
    expect(mapPoint(found, [0.9, 0.9])).toEqual(
      mapPoint(rotationMatrix(-15, 1.2, [0.1, 0.1]), [0.9, 0.9]).map((v) => expect.closeTo(v, 6)),
    );
  });
});

describe("a matrix", () => {
  it("is undone by its inverse, with all its nine numbers", () => {
    const matrix: Matrix = [
      [1.1, 0.2, 0.05],
      [-0.3, 0.9, 0.1],
      [0.04, -0.06, 1.2],
    ];
    const undone = inverse(matrix);
    for (const place of [
      [0.2, 0.7],
      [0.9, 0.1],
      [0, 0],
    ] as Point[]) {
      const [x, y] = mapPoint(undone, mapPoint(matrix, place));
      expect(x).toBeCloseTo(place[0], 12);
      expect(y).toBeCloseTo(place[1], 12);
    }
    const third = undone.map((row, r) =>
      row.reduce((sum, value, k) => sum + value * (matrix[k]?.[r] ?? 0), 0),
    );
    for (const one of third) expect(one).toBeCloseTo(1, 12); // the diagonal of their product
  });
});

describe("the middle of a shape", () => {
  const middle = (shape: object) => middleOf(shape as Shape);

  it("is half-way along a wash, at a centre, between a path's points; else the frame's", () => {
    expect(middle({ kind: "wash", from: [0.2, 0.1], to: [0.4, 0.9] })).toEqual([
      expect.closeTo(0.3),
      0.5,
    ]);
    expect(middle(ellipse([0.2, 0.8]))).toEqual([0.2, 0.8]);
    const points = [
      [0.1, 0.2, 0, 0, 0, 0],
      [0.5, 0.2, 0, 0, 0, 0],
      [0.3, 0.8, 0, 0, 0, 0],
    ];
    expect(middle({ kind: "drawn", points })).toEqual([expect.closeTo(0.3), expect.closeTo(0.4)]);
    expect(middle({ kind: "tones" })).toEqual([0.5, 0.5]);
  });
});
