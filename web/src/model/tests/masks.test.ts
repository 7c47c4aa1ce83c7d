import { describe, expect, it } from "vitest";
import type { Keyframe, Shape, ShapeKind, Step } from "../../api/client";
import { copiesOf } from "../copies";
import { plainOf, withPlain, withValue } from "../keyframes";
import { withoutReadsOf } from "../lookTree";
import {
  freshShapeId,
  keyedShape,
  keyName,
  madeShape,
  matteProblem,
  shapeProblem,
  shapeSays,
  sourceOf,
  unlinkShape,
  withOwnShapes,
  withoutShape,
} from "../masks";

const shape = (id: string, fields: Partial<Shape> = {}): Shape => ({
  id,
  kind: "ellipse",
  join: "add",
  strength: 1,
  invert: false,
  centre: [0.5, 0.5],
  size: [0.1, 0.2],
  feather: 0,
  ...fields,
});

const same = (id: string, same_as: string): Shape => ({
  id,
  same_as,
  join: "take away",
  strength: 0.5,
  invert: true,
});

const step = (id: string, mask: Shape[], keys: Record<string, Keyframe[]> = {}): Step => ({
  id,
  treatment: "mono",
  settings: {},
  mix: { blend: "normal", amount: 1, mask },
  keys,
  on: true,
});

const key = (frame: number, value: number[]): Keyframe => ({ frame, value, ease: "straight" });

const HEAD = step("plate", [shape("head"), shape("hat")], {
  "mix.mask.head.centre": [key(0, [0.1, 0.1]), key(9, [0.9, 0.1])],
});
const OTHER = step("mono", [same("its", "plate.head")]);

describe("the shapes of a mask", () => {
  it("are read and written by the names their keys have", () => {
    expect(plainOf(HEAD, "mix.mask.hat.size")).toEqual([0.1, 0.2]);
    const wide = withPlain(HEAD, "mix.mask.hat.size", [0.4, 0.2]);
    expect(plainOf(wide, "mix.mask.hat.size")).toEqual([0.4, 0.2]);
    expect(plainOf(wide, "mix.mask.head.size")).toEqual([0.1, 0.2]);
    expect(plainOf(HEAD, "mix.amount")).toBe(1);
  });

  it("that are keyed get a key where they are moved", () => {
    const moved = withValue(HEAD, keyName(shape("head"), "centre"), [0.5, 0.4], 4);
    expect(moved.keys?.["mix.mask.head.centre"]?.map((k) => k.frame)).toEqual([0, 4, 9]);
    expect(moved.mix.mask?.[0]?.centre).toEqual([0.5, 0.5]);
  });

  it("are known by the names of their keys", () => {
    const found = keyedShape(HEAD, "mix.mask.head.centre");
    expect(found).toEqual({ id: "head", field: "centre", kind: "ellipse" });
    expect(keyedShape(HEAD, "mix.amount")).toBeNull();
  });

  it("have ids of their own", () => {
    expect(freshShapeId(HEAD, "box")).toBe("box");
    expect(freshShapeId(HEAD, "head")).toBe("head 2");
  });

  it("are made as the catalogue says", () => {
    const kind = { kind: "wash", summary: "", settings: [{ name: "from", default: [0, 0] }] };
    expect(madeShape(kind as unknown as ShapeKind, "w", { to: [1, 1] })).toEqual({
      id: "w",
      kind: "wash",
      join: "add",
      strength: 1,
      invert: false,
      from: [0, 0],
      to: [1, 1],
    });
  });

  it("go with their keys when they are taken out", () => {
    const left = withoutShape(HEAD, "head");
    expect(left.mix.mask?.map((s) => s.id)).toEqual(["hat"]);
    expect(left.keys).toEqual({});
  });

  it("say where they can't be seen", () => {
    expect(shapeProblem(shape("a"))).toBeNull();
    expect(shapeProblem(shape("a", { centre: [3, 0.5] }))).toMatch(/outside the frame/);
    expect(shapeProblem(shape("a", { centre: [1.2, 0.5], size: [0.3, 0.1] }))).toBeNull();
    const far = [0, 0.1, 0.2].map((v) => [3 + v, v * v, 0, 0, 0, 0]);
    expect(shapeProblem(shape("a", { kind: "drawn", points: far as never }))).toMatch(/outside/);
  });

  it("say where a matte is of another length", () => {
    expect(matteProblem(undefined, 192)).toBeNull();
    expect(matteProblem(1, 192)).toBeNull();
    expect(matteProblem(72, 192)).toMatch(/72 frames and the clip 192/);
  });

  it("say what tells them apart", () => {
    const all = [HEAD, OTHER];
    expect(shapeSays(all, HEAD, shape("a", { feather: 40 }))).toBe("10 by 20 %, feather 40 px");
    expect(shapeSays(all, OTHER, same("its", "plate.head"))).toBe("the same as Mono's head");
    const dark = {
      kind: "tones",
      points: [
        [0, 1],
        [0.34, 1],
        [0.5, 0],
      ],
      of: "footage",
    };
    expect(shapeSays(all, HEAD, shape("a", dark as never))).toBe("0 to 34 % of the footage");
  });
});

describe("a shape of two steps", () => {
  const all = [HEAD, OTHER];
  it("is the other's", () => {
    const found = sourceOf(all, OTHER, OTHER.mix.mask?.[0] as Shape);
    expect([found.step.id, found.shape.id]).toEqual(["plate", "head"]);
  });

  it("is made its own with its keys, and joins as it did", () => {
    const own = unlinkShape(all, OTHER, "its");
    const made = own.mix.mask?.[0] as Shape;
    expect(made).toEqual(shape("its", { join: "take away", strength: 0.5, invert: true }));
    expect(own.keys?.["mix.mask.its.centre"]).toHaveLength(2);
  });

  it("is its own where the other goes", () => {
    const [kept] = withOwnShapes([OTHER], all, (id) => id === "plate");
    expect(kept?.mix.mask?.[0]?.same_as).toBeUndefined();
    const [left] = withOwnShapes([OTHER], all, (id) => id === "grain");
    expect(left).toEqual(OTHER);
  });

  it("stays one with its copy where both are copied", () => {
    const [, copy] = copiesOf(all, new Set(["plate", "mono"]));
    expect(copy?.mix.mask?.[0]?.same_as).toBe("mono-1.head");
    const [alone] = copiesOf([OTHER], new Set(["plate", "mono"]));
    expect(alone?.mix.mask?.[0]?.same_as).toBe("plate.head");
  });

  it("that is found in a picture that is gone is found in the one before", () => {
    const found = step("mono", [shape("dark", { kind: "tones", of: "plate" })]);
    const [left] = withoutReadsOf([found], new Set(["plate"]));
    expect(left?.mix.mask?.[0]?.of).toBe("previous");
  });
});
