import { describe, expect, it } from "vitest";
import type { ReelItem } from "../../api/client";
import {
  besides,
  clipFrame,
  cutAt,
  cutAtFrames,
  cutFrom,
  insertItem,
  itemAt,
  lengthOf,
  moveItems,
  placeItems,
  removeItems,
  trimItem,
  withLook,
} from "../reel";

const shot = (id: string, first: number, last: number, more = {}): ReelItem => ({
  kind: "shot",
  id,
  name: id,
  clip: 1,
  first,
  last,
  speed: 1,
  look: null,
  fitting: null,
  heard: true,
  item: 0,
  ...more,
});
const gap: ReelItem = { kind: "gap", id: "g", frames: 4, item: 1 };
const items = [shot("a", 5, 9), gap, shot("b", 0, 19, { speed: 2 })];
const ids = (of: ReelItem[]) => of.map((item) => item.id).join("");

describe("a reel's items", () => {
  it("stand one after the other, each as long as it is seen", () => {
    expect(placeItems(items).map(({ begins, ends }) => [begins, ends])).toEqual([
      [0, 5],
      [5, 9],
      [9, 19],
    ]);
    expect(lengthOf(items)).toBe(19);
    expect(itemAt(placeItems(items), 8)?.item.id).toBe("g");
    expect(itemAt(placeItems(items), 99)?.item.id).toBe("b");
  });

  it("are cut in two, of which each shows what the whole did", () => {
    const cut = cutAt(items, 12, "c");
    expect(cut.slice(2)).toMatchObject([
      { id: "b", first: 0, last: 5, item: 0 },
      { id: "c", first: 6, last: 19, item: null },
    ]);
    expect(lengthOf(cut)).toBe(19);
    expect(cutAt(items, 7, "c").slice(1, 3)).toMatchObject([{ frames: 2 }, { frames: 2 }]);
    expect(cutAt(items, 5, "c")).toBe(items);
  });

  it("are taken apart at frames of their clip that lie within", () => {
    let made = 0;
    const cut = cutAtFrames(items, "b", [0, 6, 7, 30], () => `n${made++}`);
    expect(cut.slice(2)).toMatchObject([
      { id: "b", first: 0, last: 5, item: 0, speed: 2 },
      { id: "n0", first: 6, last: 6, item: null, speed: 2 },
      { id: "n1", first: 7, last: 19, item: null, speed: 2 },
    ]);
    expect(cutAtFrames(items, "b", [], () => "n")).toEqual(items);
  });

  it("begin and end elsewhere, within their clip", () => {
    const trimEdge = (edge: "first" | "last", by: number) =>
      trimItem(items, "a", edge, by, () => 12)[0];
    expect(trimEdge("first", 2)).toMatchObject({ first: 7, last: 9 });
    expect(trimEdge("first", -99)).toMatchObject({ first: 0 });
    expect(trimEdge("first", 99)).toMatchObject({ first: 9 });
    expect(trimEdge("last", 99)).toMatchObject({ last: 11 });
    expect(trimEdge("last", -99)).toMatchObject({ last: 5 });
    expect(trimItem(items, "b", "first", 2, () => 40)[2]).toMatchObject({ first: 4 });
    expect(trimItem(items, "g", "last", -9, () => 0)[1]).toMatchObject({ frames: 1 });
  });

  it("are moved together, put in and taken out", () => {
    expect(ids(moveItems(items, new Set(["a"]), 3))).toBe("gba");
    expect(ids(moveItems(items, new Set(["b", "a"]), 0))).toBe("abg");
    expect(ids(insertItem(items, shot("c", 0, 1), 1))).toBe("acgb");
    expect(ids(removeItems(items, new Set(["a", "g"])))).toBe("b");
  });

  it("have a look, which begins without a fitting of their own", () => {
    const own = [shot("a", 0, 1, { fitting: { format: "yearning-fitting/2" } }), gap];
    const [first, second] = withLook(own, new Set(["a", "g"]), 7);
    expect(first).toMatchObject({ look: 7, fitting: null });
    expect(second).toBe(gap);
  });
});

describe("from cut to cut", () => {
  it("goes on to the next, and at last to the end", () => {
    const all = placeItems(items);
    expect([0, 5, 9, 18].map((frame) => cutFrom(all, frame, 1))).toEqual([5, 9, 18, 18]);
    expect([0, 3, 5, 18].map((frame) => cutFrom(all, frame, -1))).toEqual([0, 0, 0, 9]);
  });

  it("knows what is before and after, and the frame of the clip", () => {
    const { before, after } = besides(placeItems(items), 6);
    expect([before?.item.id, after?.item.id]).toEqual(["a", "b"]);
    expect(besides(placeItems(items), 0)).toEqual({
      before: undefined,
      after: placeItems(items)[1],
    });
    expect(besides(placeItems(items), 999)).toEqual({ before: undefined, after: undefined });
    const last = items[2];
    if (last?.kind !== "shot") throw new Error();
    expect([clipFrame(last, 3), clipFrame(last, 99)]).toEqual([6, 19]);
  });
});
