import { describe, expect, it } from "vitest";
import type { Step } from "../../api/client";
import { mapOfGrid, mapWithin, movingSteps } from "../frameMaps";
import type { Move, Point } from "../frames";

const [COLUMNS, ROWS] = [49, 28];

/** A grid of places that are moved as said. */
const gridOf = (move: Move) => ({
  columns: COLUMNS,
  rows: ROWS,
  places: Array.from({ length: COLUMNS * ROWS }, (_, n): Point => {
    const i = n % COLUMNS;
    return move([i / (COLUMNS - 1), (n - i) / COLUMNS / (ROWS - 1)]);
  }),
});

const step = (id: string, treatment: string, more: object = {}) =>
  ({
    id,
    treatment,
    on: true,
    settings: {},
    mix: { blend: "normal", amount: 1 },
    ...more,
  }) as unknown as Step;

describe("a map of the frame", () => {
  const shrunk: Move = ([x, y]) => [0.1 + 0.8 * x, 0.05 + 0.9 * y];
  const bent: Move = ([x, y]) => {
    const [u, v] = [x - 0.5, y - 0.5];
    const by = 1 - 0.3 * (u * u + v * v);
    return [0.5 + u * by, 0.5 + v * by];
  };

  it("is exact where all is scaled and shifted, beyond the frame too", () => {
    const { to, back } = mapOfGrid(gridOf(shrunk));
    for (const place of [
      [0.3, 0.8],
      [-0.2, 1.3],
      [1, 1],
    ] as Point[]) {
      const seen = shrunk(place).map((v) => expect.closeTo(v, 9));
      expect(to(place)).toEqual(seen);
      expect(back(to(place))).toEqual(place.map((v) => expect.closeTo(v, 7)));
    }
  });

  it("is near where lines are bent, and leads back to where it came from", () => {
    const { to, back } = mapOfGrid(gridOf(bent));
    for (const place of [
      [0.31, 0.77],
      [0.02, 0.98],
      [0.5, 0.1],
    ] as Point[]) {
      expect(to(place)).toEqual(bent(place).map((v) => expect.closeTo(v, 3)));
      expect(back(to(place))).toEqual(place.map((v) => expect.closeTo(v, 7)));
    }
  });

  it("moves what lies in a part of it by as much on screen", () => {
    const whole = { left: 0, top: 0, width: 400, height: 200 };
    const box = { left: 100, top: 50, width: 200, height: 100 };
    const [x, y] = mapWithin(mapOfGrid(gridOf(shrunk)), box, whole).to([0.5, 0.5]);
    const [u, v] = shrunk([0.5, 0.5]);
    expect([100 + x * 200, 50 + y * 100]).toEqual([
      expect.closeTo(u * 400, 6),
      expect.closeTo(v * 200, 6),
    ]);
  });
});

describe("steps that move the frame", () => {
  const warps = (s: Step) => s.treatment === "bend";
  const bundle = (id: string, steps: Step[], mix: object = {}) =>
    step(id, "bundle", { settings: { steps }, mix: { blend: "normal", amount: 1, ...mix } });
  const ids = (found: { before: Step[]; after: Step[] }) =>
    [found.before, found.after].map((row) => row.map((s) => s.id));

  it("are those before and after a step that are on, around its bundle too", () => {
    const inner = [step("c", "bend"), step("x", "glow"), step("d", "bend")];
    const look = [step("a", "bend"), step("b", "bend", { on: false }), bundle("in", inner)];
    expect(ids(movingSteps([...look, step("e", "bend")], "x", warps))).toEqual([
      ["a", "c"],
      ["d", "e"],
    ]);
  });

  it("are within a bundle only where that takes the picture's place", () => {
    const look = (mix: object) => [bundle("in", [step("a", "bend")], mix), step("x", "glow")];
    expect(ids(movingSteps(look({}), "x", warps))[0]).toEqual(["a"]);
    expect(ids(movingSteps(look({ blend: "screen" }), "x", warps))[0]).toEqual([]);
    expect(ids(movingSteps(look({ mask: [{ id: "s" }] }), "x", warps))[0]).toEqual([]);
  });

  it("have nothing of where they show, which leans on other steps", () => {
    const mask = [{ id: "s", kind: "ellipse", same_as: "x.s" }];
    const keys = { barrel: [], "mix.mask.s.size": [] };
    const masked = step("a", "bend", { mix: { blend: "normal", amount: 0.4, mask }, keys });
    const [found] = movingSteps([masked, step("x", "glow")], "x", warps).before;
    expect(found?.mix).toEqual({ blend: "normal", amount: 0.4 });
    expect(Object.keys(found?.keys ?? {})).toEqual(["barrel"]);
  });
});
