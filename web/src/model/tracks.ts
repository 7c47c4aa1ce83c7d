import type { PathPoint, Shape } from "../api/client";
import type { Point } from "./frames";

/** Tracks: where a part of a clip is at each frame, and what rides on it. */

export type Matrix = [number[], number[], number[]];

/** What a part may do: as files have it, and in words. */
export const KINDS = [
  { value: "shift", word: "shifts" },
  { value: "turn", word: "shifts, turns, changes size" },
  { value: "corners", word: "moves by its four corners" },
] as const;
export type Kind = (typeof KINDS)[number]["value"];

export interface TrackedFrame {
  frame: number;
  /** Takes a place of the track's first frame to where it is, in fractions of the frame. */
  matrix: Matrix;
  sure: number;
  by_hand: boolean;
}

/** Under it a frame is drawn as less sure. */
export const SURE = 0.7;

export const IDENTITY: Matrix = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** The matrix at a frame: where the part is lost, that of the frame before, or else the first. */
export function matrixAt(frames: TrackedFrame[], frame: number): Matrix {
  let found = frames[0];
  for (const each of frames) {
    if (each.frame > frame) break;
    found = each;
  }
  return found?.matrix ?? IDENTITY;
}

export function mapped([a, b, c]: Matrix, [x, y]: Point): Point {
  const row = (r: number[]) => (r[0] ?? 0) * x + (r[1] ?? 0) * y + (r[2] ?? 0);
  return [row(a) / row(c), row(b) / row(c)];
}

/** Runs of frames of one kind: sure, less sure, or by hand; what is lost is in none. */
export function runsOf(frames: TrackedFrame[]): { from: number; to: number; sure: boolean }[] {
  const runs: { from: number; to: number; sure: boolean }[] = [];
  for (const { frame, sure } of frames) {
    const last = runs.at(-1);
    if (last && last.to === frame - 1 && last.sure === sure >= SURE) last.to = frame;
    else runs.push({ from: frame, to: frame, sure: sure >= SURE });
  }
  return runs;
}

const TURN = 180 / Math.PI;

/** How a matrix turns, in degrees, and enlarges what is at a place, on a frame of that shape. */
function turnAndSize(matrix: Matrix, at: Point, aspect: number): { turn: number; size: number } {
  const far = 1e-4;
  const [ox, oy] = mapped(matrix, at);
  const [ax, ay] = mapped(matrix, [at[0] + far / aspect, at[1]]);
  const [bx, by] = mapped(matrix, [at[0], at[1] + far]);
  const across: Point = [((ax - ox) * aspect) / far, (ay - oy) / far];
  const down: Point = [((bx - ox) * aspect) / far, (by - oy) / far];
  const size = Math.sqrt(Math.abs(across[0] * down[1] - across[1] * down[0]));
  // of the similarity that is nearest to it
  return { turn: Math.atan2(across[1] - down[0], across[0] + down[1]) * TURN, size };
}

/** The middle of a shape with an edge, or the place half-way along a wash. */
export function middleOf(shape: Shape): Point {
  if (shape.kind === "wash") {
    const [a, b] = [shape.from as Point, shape.to as Point];
    return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  }
  if (shape.kind !== "drawn") return shape.centre as Point;
  const points = shape.points as PathPoint[];
  const sum = points.reduce<Point>(([x, y], p) => [x + p[0], y + p[1]], [0, 0]);
  return [sum[0] / points.length, sum[1] / points.length];
}

const withinTurn = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;

/** A shape as it rides on a track: an ellipse and a box as near as their fields can say. */
export function ridden(shape: Shape, matrix: Matrix, aspect: number): Shape {
  const place = (p: unknown) => mapped(matrix, p as Point);
  if (shape.kind === "wash") return { ...shape, from: place(shape.from), to: place(shape.to) };
  if (shape.kind === "drawn") {
    const points = (shape.points as PathPoint[]).map(([x, y, a, b, c, d]): PathPoint => {
      const at = place([x, y]);
      const [into, out] = [place([x + a, y + b]), place([x + c, y + d])];
      return [...at, into[0] - at[0], into[1] - at[1], out[0] - at[0], out[1] - at[1]];
    });
    return { ...shape, points };
  }
  const { turn, size } = turnAndSize(matrix, shape.centre as Point, aspect);
  return {
    ...shape,
    centre: place(shape.centre),
    size: (shape.size as number[]).map((v) => v * size) as Point,
    turn: withinTurn(Number(shape.turn) + turn),
  };
}

/** Places by which a shape's motion can be told: of one that is moved, turned and sized as a whole. */
function placesOf(shape: Shape, aspect: number): Point[] {
  if (shape.kind === "wash") return [shape.from as Point, shape.to as Point];
  if (shape.kind === "drawn") return (shape.points as PathPoint[]).map(([x, y]) => [x, y]);
  const [x, y] = shape.centre as Point;
  const [wide, high] = shape.size as Point;
  const angle = Number(shape.turn) / TURN;
  const reach = Math.sqrt(wide * aspect * high);
  const at = (degrees: number): Point => [
    x + (reach * Math.cos(angle + degrees / TURN)) / aspect,
    y + reach * Math.sin(angle + degrees / TURN),
  ];
  return [at(0), at(90), at(180), at(270)];
}

/**
 * The matrix by which a shape has come to lie where a hand put it: a shift, or the shift, turn and
 * size that is nearest, by least squares over its places.
 */
export function handMatrix(was: Shape, now: Shape, kind: Kind, aspect: number): Matrix {
  const px = (p: Point): Point => [p[0] * aspect, p[1]];
  const before = placesOf(was, aspect).map(px);
  const after = placesOf(now, aspect).map(px);
  const mean = (all: Point[], k: 0 | 1) => all.reduce((sum, p) => sum + p[k], 0) / all.length;
  const [mx, my, nx, ny] = [mean(before, 0), mean(before, 1), mean(after, 0), mean(after, 1)];
  let [a, b] = [1, 0];
  if (kind !== "shift") {
    let [re, im, all] = [0, 0, 0];
    before.forEach(([x, y], i) => {
      const [u, v] = [x - mx, y - my];
      const [s, t] = [(after[i]?.[0] ?? 0) - nx, (after[i]?.[1] ?? 0) - ny];
      re += u * s + v * t;
      im += u * t - v * s;
      all += u * u + v * v;
    });
    if (all > 0) [a, b] = [re / all, im / all];
  }
  return [
    [a, -b / aspect, (nx - a * mx + b * my) / aspect],
    [b * aspect, a, ny - b * mx - a * my],
    [0, 0, 1],
  ];
}
