import { expect, test } from "vitest";
import type { Points } from "../../api/client";
import { addPoint, halvePoints, movePoint, removePoint } from "../points";

const LINE: Points = [
  [0, 0],
  [1, 1],
];

test("a point is put in halfway to the next, and by the last halfway to the one before", () => {
  const three = halvePoints(LINE, 0);
  expect(three).toEqual([
    [0, 0],
    [0.5, 0.5],
    [1, 1],
  ]);
  expect(halvePoints(three, 2)[2]).toEqual([0.75, 0.75]);
});

test("where there is no room between two points, none is put in", () => {
  const close: Points = [
    [0, 0],
    [0.015, 1],
  ];
  expect(halvePoints(close, 0)).toBe(close);
});

test("a point stays between its neighbours and within the box", () => {
  const three = addPoint(LINE, [0.5, 0.8]).points;
  expect(movePoint(three, 1, [2, 3])[1]).toEqual([0.99, 1]);
  expect(movePoint(three, 1, [-2, -3])[1]).toEqual([0.01, 0]);
  expect(removePoint(three, 1)).toEqual(LINE);
});

test("a point put where one is moves that one", () => {
  expect(addPoint(LINE, [0.004, 0.2])).toEqual({
    points: [
      [0.004, 0.2],
      [1, 1],
    ],
    at: 0,
  });
});
