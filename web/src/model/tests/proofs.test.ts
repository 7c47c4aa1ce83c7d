import { describe, expect, it } from "vitest";
import type { Look, Span } from "../../api/client";
import {
  arrangeCells,
  closer,
  firstSpan,
  fromTheMiddle,
  valueNow,
  valuesOf,
  withVariant,
} from "../proofs";

const span = (low: number, high: number, count: number, way: Span["way"] = "even") => ({
  low,
  high,
  count,
  way,
});

describe("a span", () => {
  it("has its values evenly, or each so many times the one before", () => {
    expect(valuesOf(span(0, 1, 5), false)).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(valuesOf(span(1, 16, 5, "by ratio"), false)).toEqual([1, 2, 4, 8, 16]);
    expect(valuesOf(span(0, 4, 3, "by ratio"), false)).toEqual([0, 2, 4]); // no ratio from 0
  });

  it("has whole values where they have to be, none twice", () => {
    expect(valuesOf(span(0, 2, 9), true)).toEqual([0, 1, 2]);
  });

  it("halves about a value, within what can be", () => {
    expect(closer(span(0, 200, 9), 100, [0, 400])).toEqual(span(50, 150, 9));
    expect(closer(span(0, 200, 9), 10, [0, 400])).toEqual(span(0, 60, 9));
    const near = closer(span(1, 16, 5, "by ratio"), 4, [0, 99]);
    expect([near.low, near.high]).toEqual([2, 8]);
  });

  it("begins as all that the control reaches", () => {
    expect(firstSpan({ soft_minimum: 2, soft_maximum: 200 })).toMatchObject({ low: 2, high: 200 });
    expect(firstSpan({ soft_minimum: null, soft_maximum: null })).toMatchObject({
      low: 0,
      high: 1,
    });
  });
});

const LOOK = {
  format: "yearning-look/3",
  name: "Tried",
  steps: [
    {
      id: "g",
      treatment: "glow",
      settings: { spread: 60 },
      mix: { blend: "screen", amount: 0.5 },
      keys: { warmth: [{ frame: 0, value: 0.2, ease: "straight" }] },
      bursts: [],
      on: true,
    },
  ],
} as unknown as Look;

describe("a variant", () => {
  it.each([
    ["spread", 9],
    ["mix.amount", 0.9],
    ["mix.blend", "multiply"],
  ])("has another %s, and all else as it was", (name, value) => {
    const varied = withVariant(LOOK, "g", name, value, 0);
    expect(valueNow(varied, "g", name)).toBe(value);
    expect(withVariant(varied, "g", name, valueNow(LOOK, "g", name) ?? 0, 0)).toEqual(LOOK);
  });

  it("of what is keyed is pinned at the frame", () => {
    const varied = withVariant(LOOK, "g", "warmth", 0.7, 4);
    expect(varied.steps[0]?.keys?.warmth?.map((k) => [k.frame, k.value])).toEqual([
      [0, 0.2],
      [4, 0.7],
    ]);
  });
});

describe("cells", () => {
  it("come from the middle outwards", () => {
    expect(fromTheMiddle(3, 9).slice(0, 1)).toEqual([4]);
    expect(fromTheMiddle(3, 9).slice(5)).toEqual([0, 2, 6, 8]);
    expect(fromTheMiddle(5, 5)).toEqual([2, 1, 3, 0, 4]);
  });

  it.each([3, 9, 21, 64])("are as large as there is room: %i of them", (count) => {
    const room = { width: 1264, height: 690 };
    const { columns, width } = arrangeCells(count, 16 / 9, room, 22, 8);
    const rows = Math.ceil(count / columns);
    expect(columns * width + 8 * (columns - 1)).toBeLessThanOrEqual(room.width);
    expect(rows * (width / (16 / 9) + 22) + 8 * (rows - 1)).toBeLessThanOrEqual(room.height);
    for (let other = 1; other <= count; other += 1) {
      const down = (room.height + 8) / Math.ceil(count / other) - 8 - 22;
      const across = (room.width + 8) / other - 8;
      expect(width).toBeGreaterThan(Math.min(across, (down * 16) / 9) - 1);
    }
  });
});
