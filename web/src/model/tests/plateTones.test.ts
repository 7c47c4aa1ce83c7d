import { describe, expect, it } from "vitest";
import { aboutMidGrey, medianOf } from "../plateTones";

describe("a plate's base", () => {
  it("is the tone that half of its pixels lie below", () => {
    expect(medianOf([0, 0, 100, 0])).toBeCloseTo(0.625);
    expect(medianOf([10, 10, 10, 10])).toBeCloseTo(0.5);
    expect(medianOf([0, 0])).toBe(0.5);
  });

  it("becomes mid-grey with the contrast that the points have", () => {
    for (const [base, black, white] of [
      [0.44, 0, 1],
      [0.7, 0.2, 0.6],
      [0.3, 1, 0],
    ] as const) {
      const now = aboutMidGrey(base, black, white);
      expect((base - now.black) / (now.white - now.black)).toBeCloseTo(0.5, 2);
      expect(now.white - now.black).toBeCloseTo(white - black, 2);
    }
  });
});
