import type { PathPoint } from "../api/client";
import type { Box, Move, Point } from "./frames";

/** Closed paths of cubic Bézier curves, in fractions of a frame. */

/** The four points of the curve that leads from a point of the path to the next. */
export function curveFrom(points: PathPoint[], i: number): [Point, Point, Point, Point] {
  const a = points[i] as PathPoint;
  const b = points[(i + 1) % points.length] as PathPoint;
  return [
    [a[0], a[1]],
    [a[0] + a[4], a[1] + a[5]],
    [b[0] + b[2], b[1] + b[3]],
    [b[0], b[1]],
  ];
}

const pointBetween = (a: Point, b: Point, t: number): Point => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
];

const less = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1]];

/** A place on a curve. */
export function placeOn([a, b, c, d]: [Point, Point, Point, Point], t: number): Point {
  const s = 1 - t;
  const at = (k: 0 | 1) =>
    s ** 3 * a[k] + 3 * s * s * t * b[k] + 3 * s * t * t * c[k] + t ** 3 * d[k];
  return [at(0), at(1)];
}

/** A path with one more point on the curve after `i`, which stays as it is: de Casteljau's. */
export function withPointOn(points: PathPoint[], i: number, t: number): PathPoint[] {
  const [a, b, c, d] = curveFrom(points, i);
  const [ab, bc, cd] = [pointBetween(a, b, t), pointBetween(b, c, t), pointBetween(c, d, t)];
  const [abc, bcd] = [pointBetween(ab, bc, t), pointBetween(bc, cd, t)];
  const middle = pointBetween(abc, bcd, t);
  const next = (i + 1) % points.length;
  const from = points[i] as PathPoint;
  const to = points[next] as PathPoint;
  const changed = points
    .with(i, [from[0], from[1], from[2], from[3], ...less(ab, a)])
    .map((p, n): PathPoint => (n === next ? [to[0], to[1], ...less(cd, d), p[4], p[5]] : p));
  const made: PathPoint = [...middle, ...less(abc, middle), ...less(bcd, middle)];
  return changed.toSpliced(i + 1, 0, made);
}

/** The place on a path that is nearest to a point: the curve, and how far along it. */
export function nearestOn(points: PathPoint[], at: Point, box: Box): { i: number; t: number } {
  let found = { i: 0, t: 0.5, away: Number.POSITIVE_INFINITY };
  for (let i = 0; i < points.length; i += 1) {
    const curve = curveFrom(points, i);
    for (let n = 1; n < 32; n += 1) {
      const [x, y] = less(placeOn(curve, n / 32), at);
      const away = Math.hypot(x * box.width, y * box.height);
      if (away < found.away) found = { i, t: n / 32, away };
    }
  }
  return { i: found.i, t: found.t };
}

/** A path as an SVG path's `d`, where the frame is on screen. */
export function svgPath(points: PathPoint[], box: Box, closed = true): string {
  const at = ([x, y]: Point) => `${box.left + x * box.width} ${box.top + y * box.height}`;
  const first = points[0];
  if (!first) return "";
  const count = closed ? points.length : points.length - 1;
  const curves = Array.from({ length: count }, (_, i) => {
    const [, b, c, d] = curveFrom(points, i);
    return `C ${at(b)}, ${at(c)}, ${at(d)}`;
  });
  return `M ${at([first[0], first[1]])} ${curves.join(" ")}${closed ? " Z" : ""}`;
}

/** The middle of a path's points, and half of its width and height. */
export function extentOf(points: PathPoint[]): { centre: Point; half: Point } {
  const span = (k: 0 | 1): [number, number] => {
    const all = points.map((p) => p[k]);
    return [Math.min(...all), Math.max(...all)];
  };
  const [[left, right], [top, bottom]] = [span(0), span(1)];
  return {
    centre: [(left + right) / 2, (top + bottom) / 2],
    half: [Math.max((right - left) / 2, 0.005), Math.max((bottom - top) / 2, 0.005)],
  };
}

/** A path moved as a whole. */
export const movedPath = (points: PathPoint[], [dx, dy]: Point): PathPoint[] =>
  points.map(([x, y, ...handles]) => [x + dx, y + dy, ...handles] as PathPoint);

/** A path that is moved place by place: its points, and the ends of their handles. */
export const mappedPath = (points: PathPoint[], move: Move): PathPoint[] =>
  points.map(([x, y, a, b, c, d]) => {
    const at = move([x, y]);
    const [into, out] = [move([x + a, y + b]), move([x + c, y + d])];
    return [...at, into[0] - at[0], into[1] - at[1], out[0] - at[0], out[1] - at[1]];
  });

/** A path made larger or smaller about its middle, turned by degrees, on a frame so wide and high. */
export function sizedPath(
  points: PathPoint[],
  by: Point,
  degrees: number,
  { width, height }: { width: number; height: number },
): PathPoint[] {
  const { centre } = extentOf(points);
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const mapPoint = (x: number, y: number): Point => {
    const [u, v] = [x * by[0] * width, y * by[1] * height];
    return [(c * u - s * v) / width, (s * u + c * v) / height];
  };
  return points.map(([x, y, a, b, e, f]) => {
    const [px, py] = mapPoint(x - centre[0], y - centre[1]);
    return [centre[0] + px, centre[1] + py, ...mapPoint(a, b), ...mapPoint(e, f)] as PathPoint;
  });
}

/** Whether a point's handles lie straight across from each other, and so go together. */
export const isJoined = ([, , a, b, c, d]: PathPoint): boolean =>
  Math.abs(a * d - b * c) < 1e-6 && a * c + b * d <= 0;

/** A path with a point's handle moved; the other goes with it, straight across, unless broken. */
export function withHandle(
  points: PathPoint[],
  i: number,
  end: "in" | "out",
  [x, y]: Point,
  broken: boolean,
): PathPoint[] {
  const p = points[i] as PathPoint;
  const across: Point = broken ? (end === "in" ? [p[4], p[5]] : [p[2], p[3]]) : [-x, -y];
  const made: PathPoint =
    end === "in" ? [p[0], p[1], x, y, ...across] : [p[0], p[1], ...across, x, y];
  return points.with(i, made);
}

/** A point made a corner, or where it is one, round: along the line between its neighbours. */
export function roundedOrNot(points: PathPoint[], i: number): PathPoint[] {
  const p = points[i] as PathPoint;
  if (p.slice(2).some((v) => v !== 0)) return points.with(i, [p[0], p[1], 0, 0, 0, 0]);
  const before = points.at(i - 1) as PathPoint;
  const after = points[(i + 1) % points.length] as PathPoint;
  const [x, y] = [(after[0] - before[0]) / 6, (after[1] - before[1]) / 6];
  return points.with(i, [p[0], p[1], -x, -y, x, y]);
}

/** Straight parts of each curve in which a path is looked through for where it crosses itself. */
const PARTS = 11;

/** Below it three places lie on one line but for rounding. */
const FLAT = 1e-14;

/** Whether a path crosses itself: what it goes round twice is outside then. */
export function crossesItself(points: PathPoint[]): boolean {
  const along = points.flatMap((_, i) =>
    Array.from({ length: PARTS }, (_n, n) => placeOn(curveFrom(points, i), n / PARTS)),
  );
  const corners = along.filter((p, n) => {
    const before = along.at(n - 1) as Point;
    return Math.hypot(p[0] - before[0], p[1] - before[1]) > 1e-9;
  });
  const side = ([ax, ay]: Point, [bx, by]: Point, [cx, cy]: Point) =>
    (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  const at = (n: number) => corners[n % corners.length] as Point;
  const count = corners.length;
  for (let i = 0; i < count; i += 1)
    for (let j = i + 2; j < count - (i === 0 ? 1 : 0); j += 1) {
      const [a, b, c, d] = [at(i), at(i + 1), at(j), at(j + 1)];
      const parts = (p: number, q: number) => p * q < -FLAT;
      if (parts(side(a, b, c), side(a, b, d)) && parts(side(c, d, a), side(c, d, b))) return true;
    }
  return false;
}
