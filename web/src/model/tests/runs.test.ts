import { expect, it } from "vitest";
import { runs } from "../runs";

it("neighbouring numbers are one range, in whatever order they came", () => {
  expect(runs(new Set([7, 3, 4, 8, 1]))).toEqual([
    [1, 2],
    [3, 5],
    [7, 9],
  ]);
  expect(runs(new Set())).toEqual([]);
});
