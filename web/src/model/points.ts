import type { Points } from "../api/client";

/** Points of a curve, ordered from left to right, both numbers from 0 to 1: changes of them. */

/** Two points are no nearer to each other across than this. */
const GAP = 0.01;

const clamp = (v: number) => Math.min(Math.max(v, 0), 1);
const roundValue = (v: number) => Math.round(v * 1000) / 1000;

/** One point at another place, kept between its neighbours. */
export function movePoint(points: Points, at: number, [x, y]: [number, number]): Points {
  const low = (points[at - 1]?.[0] ?? -GAP) + GAP;
  const high = (points[at + 1]?.[0] ?? 1 + GAP) - GAP;
  return points.with(at, [roundValue(Math.min(Math.max(x, low), high)), roundValue(clamp(y))]);
}

/** A point put in, or where one is as near as that, that one moved: the points, and which it is. */
export function addPoint(points: Points, [x, y]: [number, number]): { points: Points; at: number } {
  const place: [number, number] = [roundValue(clamp(x)), roundValue(clamp(y))];
  const near = points.findIndex(([other]) => Math.abs(other - place[0]) < GAP);
  if (near >= 0) return { points: movePoint(points, near, place), at: near };
  const after = points.findIndex(([other]) => other > place[0]);
  const at = after < 0 ? points.length : after;
  return { points: points.toSpliced(at, 0, place), at };
}

/** The points with one more, halfway to a point's neighbour; as they were where that is too near. */
export function halvePoints(points: Points, at: number): Points {
  const [from, to] = at + 1 < points.length ? [at, at + 1] : [at - 1, at];
  const [a, b] = [points[from], points[to]];
  if (!a || !b || b[0] - a[0] < 2 * GAP) return points;
  return points.toSpliced(to, 0, [roundValue((a[0] + b[0]) / 2), roundValue((a[1] + b[1]) / 2)]);
}

/** The points without one of them. */
export const removePoint = (points: Points, at: number): Points => points.toSpliced(at, 1);
