import type { Clip, PlacedLobe, Shape, Step, TrackPlaces } from "../api/client";
import type { Box, Move, Point } from "./frames";
import { isOutline, isShape } from "./masks";
import { mappedPath } from "./paths";

/** Tracks: where a part of a clip is at each frame, and what rides on it. */

export type Matrix = TrackedFrame["matrix"];

/** What a part may do: as files have it, and in words. */
export const KINDS = [
  { value: "shift", word: "shifts" },
  { value: "turn", word: "shifts, turns, changes size" },
  { value: "corners", word: "moves by its four corners" },
] as const;
export type Kind = TrackPlaces["kind"];

export type TrackedFrame = TrackPlaces["places"][number];

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

export const moveBy =
  (matrix: Matrix): Move =>
  (place) =>
    mapPoint(matrix, place);

export function mapPoint([a, b, c]: Matrix, [x, y]: Point): Point {
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

/** How what is at a place is turned, in degrees, and enlarged, on a frame of that shape. */
function turnAndSize(move: Move, at: Point, aspect: number): { turn: number; size: number } {
  const far = 1e-4;
  const [ox, oy] = move(at);
  const [ax, ay] = move([at[0] + far / aspect, at[1]]);
  const [bx, by] = move([at[0], at[1] + far]);
  const across: Point = [((ax - ox) * aspect) / far, (ay - oy) / far];
  const down: Point = [((bx - ox) * aspect) / far, (by - oy) / far];
  const size = Math.sqrt(Math.abs(across[0] * down[1] - across[1] * down[0]));
  // of the similarity that is nearest to it
  return { turn: Math.atan2(across[1] - down[0], across[0] + down[1]) * TURN, size };
}

/** The matrix that undoes another. */
export function inverse([
  [a = 0, b = 0, c = 0],
  [d = 0, e = 0, f = 0],
  [g = 0, h = 0, i = 0],
]: Matrix): Matrix {
  const [A, D, G] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const det = a * A + b * D + c * G;
  return [
    [A / det, (c * h - b * i) / det, (b * f - c * e) / det],
    [D / det, (a * i - c * g) / det, (c * d - a * f) / det],
    [G / det, (b * g - a * h) / det, (a * e - b * d) / det],
  ];
}

/** A matrix for places in fractions of a part of the frame, from that for fractions of all of it. */
export function matrixWithin(matrix: Matrix, part: Box, whole: Box): Matrix {
  const scale = [part.width / whole.width, part.height / whole.height] as const;
  const shift = [
    (part.left - whole.left) / whole.width,
    (part.top - whole.top) / whole.height,
  ] as const;
  const into: Matrix = [
    [scale[0], 0, shift[0]],
    [0, scale[1], shift[1]],
    [0, 0, 1],
  ];
  return product(inverse(into), product(matrix, into));
}

function product(one: Matrix, other: Matrix): Matrix {
  const at = (r: number, c: number) =>
    [0, 1, 2].reduce((sum, k) => sum + (one[r]?.[k] ?? 0) * (other[k]?.[c] ?? 0), 0);
  const row = (r: number): Matrix[0] => [at(r, 0), at(r, 1), at(r, 2)];
  return [row(0), row(1), row(2)];
}

/** The frame as it was shot that a clip shows at a frame, whatever its speed. */
export const shotFrame = (clip: Pick<Clip, "reading">, frame: number): number =>
  Math.floor(frame * Number(clip.reading.speed ?? 1) + 1e-6);

/** The frame of a clip at which a frame as it was shot is seen first. */
export const seenFrame = (clip: Pick<Clip, "reading">, shot: number): number =>
  Math.max(0, Math.ceil(shot / Number(clip.reading.speed ?? 1) - 1e-6));

/** The middle of a shape with an edge, or the place half-way along a wash. */
export function middleOf(shape: Shape): Point {
  if (isShape(shape, "wash")) {
    const [a, b] = [shape.from, shape.to];
    return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  }
  if (isShape(shape, "ellipse", "box")) return shape.centre;
  if (!isShape(shape, "drawn")) return [0.5, 0.5];
  const { points } = shape;
  const sum = points.reduce<Point>(([x, y], p) => [x + p[0], y + p[1]], [0, 0]);
  return [sum[0] / points.length, sum[1] / points.length];
}

const withinTurn = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;

/** A shape that is moved: an ellipse and a box as near as their fields can say. */
export function rideShape(shape: Shape, place: Move, aspect: number): Shape {
  if (isShape(shape, "wash")) return { ...shape, from: place(shape.from), to: place(shape.to) };
  if (!isOutline(shape)) return shape;
  const soft = (size: number) => ({ feather: shape.feather * size });
  if (isShape(shape, "drawn")) {
    const points = mappedPath(shape.points, place);
    return { ...shape, points, ...soft(turnAndSize(place, middleOf(shape), aspect).size) };
  }
  const { turn, size } = turnAndSize(place, shape.centre, aspect);
  return {
    ...shape,
    centre: place(shape.centre),
    size: [shape.size[0] * size, shape.size[1] * size],
    turn: withinTurn(shape.turn + turn),
    ...soft(size),
  };
}

/** The fields of shapes by which they lie where they do. */
export const PLACE_FIELDS = ["centre", "size", "turn", "points", "from", "to"];

/** Places along the edges that something comes in from; it stays at corners. */
const EDGES: Record<string, (v: number) => Point> = {
  left: (v) => [0, v],
  right: (v) => [1, v],
  top: (v) => [v, 0],
  bottom: (v) => [v, 1],
};

/** The settings of a treatment that is moved: its place, and its size and turn if it has them. */
export function riddenSettings(
  settings: Step["settings"],
  move: Move,
  aspect: number,
): Step["settings"] {
  const name = settings.place ? "place" : "centre";
  const at = settings[name] as Point | undefined;
  if (settings.from_edge) {
    const moveEdge = (edge: string, position: number) => {
      const along = EDGES[edge];
      if (!along) return position;
      const [x, y] = move(along(position));
      return along(0)[0] === along(1)[0] ? y : x;
    };
    const placed = settings.placed as PlacedLobe[] | undefined;
    return {
      ...settings,
      position: moveEdge(String(settings.from_edge), Number(settings.position)),
      ...(placed && {
        placed: placed.map((lobe) => ({
          ...lobe,
          position: moveEdge(lobe.from_edge, lobe.position),
        })),
      }),
    };
  }
  if (!at) return settings;
  const { turn, size } = turnAndSize(move, at, aspect);
  const made: Step["settings"] = { ...settings, [name]: move(at) };
  if (settings.size) made.size = (settings.size as number[]).map((v) => v * size);
  if (settings.scale !== undefined) made.scale = Number(settings.scale) * size;
  if (settings.turn !== undefined) made.turn = withinTurn(Number(settings.turn) + turn);
  return made;
}

/** Places by which a shape's motion can be told: of one that is moved, turned and sized as a whole. */
function placesOf(shape: Shape, aspect: number): Point[] {
  if (isShape(shape, "wash")) return [shape.from, shape.to];
  if (isShape(shape, "drawn")) return shape.points.map(([x, y]) => [x, y]);
  if (!isShape(shape, "ellipse", "box")) return [];
  const [x, y] = shape.centre;
  const [wide, high] = shape.size;
  const angle = shape.turn / TURN;
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
