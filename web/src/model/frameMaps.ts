import type { FrameGrid, Step } from "../api/client";
import type { Box, Move, Point } from "./frames";
import { enclosingBundles, innerSteps, isBundle, rowOf } from "./lookTree";
import { MASK } from "./masks";

/** Where steps have moved what is in the frame: bends, borders, weaves, crops. */

/** Where places of the frame as shot are seen, and the way back. */
export interface FrameMap {
  to: Move;
  back: Move;
}

type Warps = (step: Step) => boolean;

/** Steps that move what is in the frame before and after a step, those around its bundle too. */
export function movingSteps(
  steps: Step[],
  id: string,
  warps: Warps,
): { before: Step[]; after: Step[] } {
  const found: { before: Step[]; after: Step[] } = { before: [], after: [] };
  for (const at of [...enclosingBundles(steps, id).map((bundle) => bundle.id), id]) {
    const row = rowOf(steps, at);
    const i = row.findIndex((step) => step.id === at);
    found.before.push(...movers(row.slice(0, i), warps));
    found.after.unshift(...movers(row.slice(i + 1), warps));
  }
  return found;
}

/** Of a row, what moves the frame, with nothing but what that takes; bundles that are mixed in move none. */
function movers(row: Step[], warps: Warps): Step[] {
  return row.flatMap((step): Step[] => {
    const { on, mix } = step;
    if (!on) return [];
    const isPlain = mix.blend === "normal" && !mix.mask?.length && !mix.tones;
    if (isBundle(step)) return isPlain ? movers(innerSteps(step), warps) : [];
    if (!warps(step)) return [];
    const keys = Object.entries(step.keys ?? {}).filter(([name]) => !name.startsWith(MASK));
    return [
      { ...step, mix: { blend: "normal", amount: mix.amount }, keys: Object.fromEntries(keys) },
    ];
  });
}

const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

/** The map that a grid of places says: bilinear between them, and on in the same way beyond. */
export function mapOfGrid({ columns, rows, places }: FrameGrid): FrameMap {
  const at = (i: number, j: number): Point => places[j * columns + i] ?? [0, 0];
  const to: Move = ([x, y]) => {
    const [u, v] = [x * (columns - 1), y * (rows - 1)];
    const i = clamp(Math.floor(u), 0, columns - 2);
    const j = clamp(Math.floor(v), 0, rows - 2);
    const [s, t] = [u - i, v - j];
    const [a, b, c, d] = [at(i, j), at(i + 1, j), at(i, j + 1), at(i + 1, j + 1)];
    const interpolateAxis = (k: 0 | 1) =>
      (1 - t) * ((1 - s) * a[k] + s * b[k]) + t * ((1 - s) * c[k] + s * d[k]);
    return [interpolateAxis(0), interpolateAxis(1)];
  };
  return { to, back: (seen) => pointBefore(to, seen) };
}

const ROUNDS = 12;
const CLOSE = 1e-9;
const STEP = 1e-5;

/** Where a place was before it was moved, by Newton's method, the slopes by differences. */
function pointBefore(to: Move, seen: Point): Point {
  let [x, y] = seen;
  for (let round = 0; round < ROUNDS; round += 1) {
    const here = to([x, y]);
    const [p, q] = [seen[0] - here[0], seen[1] - here[1]];
    if (Math.abs(p) + Math.abs(q) < CLOSE) break;
    const [across, down] = [to([x + STEP, y]), to([x, y + STEP])];
    const [a, c] = [(across[0] - here[0]) / STEP, (across[1] - here[1]) / STEP];
    const [b, d] = [(down[0] - here[0]) / STEP, (down[1] - here[1]) / STEP];
    const det = a * d - b * c;
    if (Math.abs(det) < 1e-6) break; // folded: there is no one place
    x += (d * p - b * q) / det;
    y += (a * q - c * p) / det;
  }
  return [x, y];
}

/** A map of the frame for places in parts of a box of it; `whole` is the frame on screen. */
export function mapWithin({ to, back }: FrameMap, box: Box, whole: Box): FrameMap {
  const moved =
    (move: Move): Move =>
    ([x, y]) => {
      const [u, v] = move([
        (box.left + x * box.width - whole.left) / whole.width,
        (box.top + y * box.height - whole.top) / whole.height,
      ]);
      return [
        (whole.left + u * whole.width - box.left) / box.width,
        (whole.top + v * whole.height - box.top) / box.height,
      ];
    };
  return { to: moved(to), back: moved(back) };
}
