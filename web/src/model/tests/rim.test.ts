import { describe, expect, it } from "vitest";
import { footOf, INWARD, rimPlaceAt } from "../rim";

const BOX = { left: 10, top: 20, width: 160, height: 90 };

describe("a place on the frame's rim", () => {
  it("is the nearest edge's", () => {
    expect(rimPlaceAt([12, 65], BOX)).toEqual({ edge: "left", position: 0.5 });
    expect(rimPlaceAt([165, 65], BOX)).toEqual({ edge: "right", position: 0.5 });
    expect(rimPlaceAt([50, 24], BOX)).toEqual({ edge: "top", position: 0.25 });
    expect(rimPlaceAt([130, 300], BOX)).toEqual({ edge: "bottom", position: 0.75 });
  });

  it("near a corner is the corner's, and leans to the side it lies on", () => {
    expect(rimPlaceAt([10, 20], BOX)).toEqual({ edge: "top left", position: 0.5 });
    expect(rimPlaceAt([174, 107], BOX).edge).toBe("bottom right");
    expect(rimPlaceAt([14, 20], BOX).position).toBeGreaterThan(0.5);
    expect(rimPlaceAt([10, 25], BOX).position).toBeLessThan(0.5);
  });

  it("lets light in by a step of one, away from where it lies", () => {
    for (const [edge, [x, y]] of Object.entries(INWARD)) {
      expect(Math.hypot(x, y)).toBeCloseTo(1, 12);
      const [left, top] = footOf({ edge, position: 0.5 }, BOX);
      expect(x * (BOX.left + BOX.width / 2 - left)).toBeGreaterThanOrEqual(0);
      expect(y * (BOX.top + BOX.height / 2 - top)).toBeGreaterThanOrEqual(0);
    }
  });

  it("is where it was found", () => {
    for (const edge of Object.keys(INWARD))
      for (const position of edge.includes(" ") ? [0.35, 0.5, 0.62] : [0.2, 0.5, 0.7]) {
        const found = rimPlaceAt(footOf({ edge, position }, BOX), BOX);
        expect(found.edge).toBe(edge);
        expect(found.position).toBeCloseTo(position, 9);
      }
  });
});
