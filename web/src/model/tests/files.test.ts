import { describe, expect, it } from "vitest";
import { duration } from "../duration";
import { addPoint, movePoint, removePoint } from "../points";
import { packStills, shotsOf } from "../stillSequences";

const file = (name: string, bytes = 3) => new File([new Uint8Array(bytes)], name);
const shotNames = (...names: string[]) =>
  shotsOf(names.map((n) => file(n))).shots.map((s) => s.name);

describe("numbered stills", () => {
  it.each([
    [["a.0001.png", "a.0002.png"], ["a.%04d.png"]],
    [["a9.png", "a10.png"], ["a%d.png"]],
    [
      ["a.0001.exr", "b.0001.exr", "a.0002.exr", "b.0002.exr"],
      ["a.%04d.exr", "b.%04d.exr"],
    ],
    [
      ["a.01.png", "a.02.png", "b.1.png", "b.2.png", "a.1.exr", "a.2.exr"],
      ["a.%02d.png", "b.%d.png", "a.%d.exr"],
    ],
    [["a.09.png", "a.10.png"], ["a.%02d.png"]],
    [["a.0001.png"], []],
    [["one.png", "two.png"], []],
    [["a%1.png", "a%2.png"], []],
    [["1.mp4", "2.mp4"], []],
  ])("%j are the clips %j", (names, expected) => {
    expect(shotNames(...names)).toEqual(expected);
  });

  it("leave the other files as they are", () => {
    const { rest } = shotsOf(["a1.png", "a2.png", "look.json"].map((n) => file(n)));
    expect(rest.map((f) => f.name)).toEqual(["look.json"]);
  });

  it("are packed as a tar archive of POSIX.1-2001: blocks of 512, a sum of the header's bytes", async () => {
    const bytes = new Uint8Array(
      await packStills([file("a1.png", 700), file("a2.png", 512)]).arrayBuffer(),
    );
    expect(bytes.length).toBe(512 + 1024 + 512 + 512 + 1024);
    const text = (from: number, length: number) =>
      new TextDecoder()
        .decode(bytes.slice(from, from + length))
        .replace(/\0.*$/s, "")
        .trim();
    expect(text(0, 100)).toBe("a1.png");
    expect(Number.parseInt(text(124, 12), 8)).toBe(700);
    const header = bytes.slice(0, 512).fill(32, 148, 156); // the sum is taken with blanks in its place
    expect(Number.parseInt(text(148, 8), 8)).toBe(header.reduce((a, b) => a + b, 0));
    expect(text(512 + 1024, 100)).toBe("a2.png");
  });
});

describe("points of a curve", () => {
  const points: [number, number][] = [
    [0, 0],
    [0.5, 0.5],
    [1, 1],
  ];

  it("stay between their neighbours and within the box", () => {
    expect(movePoint(points, 1, [2, 2])[1]).toEqual([0.99, 1]);
    expect(movePoint(points, 1, [-1, -1])[1]).toEqual([0.01, 0]);
    expect(movePoint(points, 0, [-1, 0.2])[0]).toEqual([0, 0.2]);
  });

  it("are put in where they belong, or move the one that is there", () => {
    expect(addPoint(points, [0.25, 0.4])).toEqual({
      points: points.toSpliced(1, 0, [0.25, 0.4]),
      at: 1,
    });
    expect(addPoint(points, [0.505, 0.9])).toEqual({ points: points.with(1, [0.505, 0.9]), at: 1 });
    expect(removePoint(points, 1)).toEqual([points[0], points[2]]);
  });
});

it.each([
  [0, "0 s"],
  [39.2, "40 s"],
  [200, "3 min 20 s"],
  [7500, "2 h 5 min"],
])("%d seconds are %s", (seconds, words) => {
  expect(duration(seconds)).toBe(words);
});
