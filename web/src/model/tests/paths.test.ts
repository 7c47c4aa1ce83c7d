import { describe, expect, it } from "vitest";
import type { PathPoint, Step } from "../../api/client";
import { asShotAfter } from "../frames";
import {
  crossesItself,
  curveFrom,
  extentOf,
  isJoined,
  movedPath,
  nearestOn,
  placeOn,
  roundedOrNot,
  sizedPath,
  svgPath,
  withHandle,
  withPointOn,
} from "../paths";

const PATH: PathPoint[] = [
  [0.2, 0.2, 0, 0.1, 0.1, -0.1],
  [0.8, 0.3, -0.1, 0, 0, 0.2],
  [0.5, 0.8, 0.2, 0.1, -0.1, 0],
];
const BOX = { left: 10, top: 20, width: 200, height: 100 };

describe("a path", () => {
  it("stays where it was when a point is added on it", () => {
    for (const i of [0, 1, 2]) {
      const more = withPointOn(PATH, i, 0.3);
      expect(more).toHaveLength(4);
      for (const t of [0.1, 0.5, 0.9]) {
        const was = placeOn(curveFrom(PATH, i), t);
        const now =
          t < 0.3
            ? placeOn(curveFrom(more, i), t / 0.3)
            : placeOn(curveFrom(more, i + 1), (t - 0.3) / 0.7);
        expect(now[0]).toBeCloseTo(was[0], 9);
        expect(now[1]).toBeCloseTo(was[1], 9);
      }
    }
  });

  it("is nearest where a place on it is", () => {
    const at = placeOn(curveFrom(PATH, 1), 0.25);
    expect(nearestOn(PATH, at, BOX)).toEqual({ i: 1, t: 0.25 });
  });

  it("moves as a whole, handles and all", () => {
    const moved = movedPath(PATH, [0.1, -0.1]);
    expect(moved[0]?.slice(0, 2)).toEqual([0.30000000000000004, 0.1]);
    expect(moved[0]?.slice(2)).toEqual(PATH[0]?.slice(2));
  });

  it("is sized and turned about its middle as it is seen", () => {
    const { centre } = extentOf(PATH);
    const twice = extentOf(sizedPath(PATH, [2, 2], 0, BOX));
    expect(twice.centre[0]).toBeCloseTo(centre[0], 9);
    expect(twice.half[0]).toBeCloseTo(2 * extentOf(PATH).half[0], 9);
    const quarter = extentOf(sizedPath(PATH, [1, 1], 90, BOX)).half;
    expect(quarter[0] * BOX.width).toBeCloseTo(extentOf(PATH).half[1] * BOX.height, 9);
    const back = sizedPath(sizedPath(PATH, [1, 1], 37, BOX), [1, 1], -37, BOX);
    expect(extentOf(back).half[1]).toBeCloseTo(extentOf(PATH).half[1], 2);
  });

  it("has handles that go together until one is broken off", () => {
    expect(withHandle(PATH, 0, "out", [0.3, 0], false)[0]).toEqual([0.2, 0.2, -0.3, -0, 0.3, 0]);
    expect(withHandle(PATH, 0, "out", [0.3, 0], true)[0]).toEqual([0.2, 0.2, 0, 0.1, 0.3, 0]);
  });

  it("has handles that stay broken once they are", () => {
    const corner = withHandle(PATH, 1, "out", [0.1, 0.2], true)[1] as PathPoint;
    expect(isJoined(corner)).toBe(false);
    expect(isJoined([0.5, 0.5, -0.1, 0.2, 0.2, -0.4])).toBe(true);
    expect(isJoined([0.5, 0.5, 0.1, 0.2, 0.2, 0.4])).toBe(false);
  });

  it("has corners that are made round, and back", () => {
    const corner = roundedOrNot(PATH, 1);
    expect(corner[1]?.slice(2)).toEqual([0, 0, 0, 0]);
    expect(
      roundedOrNot(corner, 1)[1]
        ?.slice(2)
        .some((v) => v !== 0),
    ).toBe(true);
  });

  it("is drawn where the frame is", () => {
    expect(svgPath(PATH.slice(0, 2), BOX, false)).toBe("M 50 40 C 70 30, 150 50, 170 50");
    expect(svgPath([], BOX)).toBe("");
  });
});

it("a path that crosses itself is known", () => {
  const corner = (x: number, y: number): PathPoint => [x, y, 0, 0, 0, 0];
  const square = [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 1)];
  expect(crossesItself(square)).toBe(false);
  expect(crossesItself(PATH)).toBe(false);
  expect(crossesItself([corner(0, 0), corner(1, 1), corner(1, 0), corner(0, 1)])).toBe(true);
});

it("the frame as shot is seen where crops have moved it", () => {
  const crop: Step = {
    id: "crop",
    treatment: "crop",
    settings: { ratio: 1, size: 0.5, place: [0.5, 0.5], align: false },
    mix: { blend: "normal", amount: 1 },
    on: true,
  };
  const size = { width: 200, height: 100 };
  expect(asShotAfter([], size)).toEqual({ left: 0, top: 0, width: 200, height: 100 });
  expect(asShotAfter([crop], size)).toEqual({ left: -100, top: -50, width: 400, height: 200 });
});
