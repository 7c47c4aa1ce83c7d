import { describe, expect, it } from "vitest";
import type { Step } from "../../api/client";
import { edgeAt } from "../../features/compare/handles/Opening";
import {
  type Framing,
  leftAfter,
  placeOfWindow,
  ratioBox,
  resizedWindow,
  SMALLEST_PART,
  seenAtEnd,
  seenThrough,
  wholeOf,
  windowIn,
} from "../frames";
import { layPlate, type PlateSettings, placeOfPlate } from "../platePlace";

const WALL = { width: 320, height: 180 };
const SQUARE: Framing = { ratio: 1, part: 0.5, place: [0.5, 0.5], align: false };

const step = (id: string, treatment: string, settings: Step["settings"] = {}): Step => ({
  id,
  treatment,
  settings,
  mix: { blend: "normal", amount: 1 },
  on: true,
});

const crop = (id: string, ratio: number, part = 1, place = [0.5, 0.5]) =>
  step(id, "crop", { ratio, size: part, place, align: false });

describe("a window of the picture", () => {
  it("has its middle at its place", () => {
    const box = windowIn({ ...SQUARE, place: [0.3, 0.6] }, WALL);
    expect(box).toEqual({ left: 0.3 * 320 - 45, top: 0.6 * 180 - 45, width: 90, height: 90 });
  });

  it.each([
    [[0, 0], 0, 0],
    [[1, 1], 230, 90],
    [[-3, 0.5], 0, 45],
  ] as [[number, number], number, number][])(
    "is held within the picture: %j",
    (place, left, top) => {
      expect(windowIn({ ...SQUARE, place }, WALL)).toMatchObject({ left, top });
    },
  );

  it.each([true, false])("is where it was put, align %s", (align) => {
    const framing = { ...SQUARE, align };
    const place = placeOfWindow(40, 70, framing, WALL);
    expect(windowIn({ ...framing, place }, WALL).left).toBeCloseTo(40);
    expect(windowIn({ ...framing, place }, WALL).top).toBeCloseTo(70);
  });

  it("keeps its place where it has no room and counts from edge to edge", () => {
    const framing: Framing = { ratio: 16 / 9, part: 1, place: [0.2, 0.7], align: true };
    expect(placeOfWindow(5, 5, framing, WALL)).toEqual([0.2, 0.7]);
  });

  it.each([
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ] as [number, number][])("is sized by a corner, the one across held: %d %d", (right, down) => {
    const framing: Framing = { ...SQUARE, place: [0.4, 0.55] };
    const before = windowIn(framing, WALL);
    const after = windowIn(
      { ...framing, ...resizedWindow(framing, [right, down], [right * 9, down * 9], WALL) },
      WALL,
    );
    expect(after.width).toBeCloseTo(99);
    const cornersOf = (box: typeof before) => [
      right > 0 ? box.left : box.left + box.width,
      down > 0 ? box.top : box.top + box.height,
    ];
    expect(cornersOf(after)[0]).toBeCloseTo(cornersOf(before)[0] as number);
    expect(cornersOf(after)[1]).toBeCloseTo(cornersOf(before)[1] as number);
  });

  it("grows to the picture's edge and no farther, and never shrinks to nothing", () => {
    const grown = resizedWindow({ ...SQUARE, place: [0.5, 0.6] }, [1, 1], [500, 500], WALL);
    expect(grown.part).toBeCloseTo(117 / 180); // from its upper left corner, which stays
    const box = windowIn({ ...SQUARE, ...grown }, WALL);
    expect(box.top + box.height).toBeCloseTo(180);
    expect(resizedWindow(SQUARE, [1, 1], [-500, -500], WALL).part).toBe(SMALLEST_PART);
  });

  it("fills its frame with what it shows", () => {
    const framing: Framing = { ratio: 1, part: 0.5, place: [0.3, 0.6], align: false };
    const frame = ratioBox(1, WALL);
    const seen = seenThrough(windowIn(framing, WALL), framing, WALL);
    for (const side of ["left", "top", "width", "height"] as const)
      expect(seen[side]).toBeCloseTo(frame[side]);
  });
});

describe("the frame that is left", () => {
  const row = [crop("a", 2), step("v", "vignette"), { ...crop("b", 1.2), on: false }, crop("c", 1)];

  it("is that of the last crop that is on", () => {
    expect(leftAfter(row, WALL)).toEqual(ratioBox(1, WALL));
    expect(leftAfter(row.slice(0, 3), WALL)).toEqual(ratioBox(2, WALL));
    expect(leftAfter([], WALL)).toEqual(wholeOf(WALL));
  });

  it("is seen through the crops after a step, and those alone", () => {
    const later = [step("f", "focus"), crop("c", 1, 0.5, [0.25, 0.5])];
    const seen = seenAtEnd(wholeOf(WALL), later[0] as Step, later, WALL);
    expect(seen).toEqual(seenThrough(wholeOf(WALL), { ...SQUARE, place: [0.25, 0.5] }, WALL));
    expect(seenAtEnd(wholeOf(WALL), row[3] as Step, row, WALL)).toEqual(wholeOf(WALL));
  });
});

describe("a plate in the frame", () => {
  const plate: PlateSettings = {
    fit: "fit",
    scale: 0.5,
    turn: 0,
    place: [0.25, 0.5],
    align: false,
  };
  const own = { width: 100, height: 50 };
  const box = { left: 10, top: 20, width: 320, height: 180 };

  it("lies with its middle at its place, as large as it fits and is scaled", () => {
    expect(layPlate(plate, own, box)).toEqual({ width: 160, height: 80, middle: [90, 110] });
    expect(layPlate({ ...plate, fit: "fill", scale: 1 }, own, box).height).toBeCloseTo(180);
    expect(layPlate({ ...plate, fit: "stretch", scale: 1 }, own, box)).toMatchObject({
      width: 320,
      height: 180,
    });
  });

  it("fits whole when it is turned", () => {
    const { width, height } = layPlate({ ...plate, turn: 90, scale: 1 }, own, box);
    expect([height, width].map(Math.round)).toEqual([90, 180]);
  });

  it.each([true, false])("is put where the hand leaves it, align %s", (align) => {
    const settings = { ...plate, turn: 20, align };
    const laid = layPlate(settings, own, box);
    const place = placeOfPlate([140, 70], settings, laid, box);
    const [x, y] = layPlate({ ...settings, place }, own, box).middle;
    expect(x).toBeCloseTo(140);
    expect(y).toBeCloseTo(70);
  });

  it("lies on the frame's edges at 0 and 1 where it is align", () => {
    const { width, middle } = layPlate({ ...plate, align: true, place: [0, 1] }, own, box);
    expect(middle[0] - width / 2).toBeCloseTo(10);
    expect(middle[1] + 40).toBeCloseTo(200);
  });
});

describe("the edge of an opening", () => {
  it("is a circle, or a square, of its half axes", () => {
    expect(edgeAt(0.7, 1, 0)).toBeCloseTo(1);
    expect(edgeAt(Math.PI / 4, 0, 0)).toBeCloseTo(Math.SQRT2);
    expect(edgeAt(0, 0, 0)).toBeCloseTo(1);
  });

  it("is pushed out at the sides and stays at the corners", () => {
    expect(edgeAt(Math.PI / 4, 1, 1)).toBeCloseTo(1);
    expect(edgeAt(0, 1, 1)).toBeCloseTo(Math.SQRT2);
    expect(edgeAt(Math.PI / 4, 0, 1)).toBeCloseTo(Math.SQRT2);
    expect(edgeAt(0, 0, 1)).toBeCloseTo(2);
  });
});
