import type { Box, Point } from "./frames";

/** Places on the frame's rim, where light leaks in: an edge or a corner, and where along it. */

export interface RimPlace {
  edge: string;
  /** From the edge's left or top, 0 to 1; from a corner, to which side it leans, 0.5 being neither. */
  position: number;
}

/** Which way light goes from an edge or a corner, across and down. */
export const INWARD: Record<string, Point> = {
  left: [1, 0],
  right: [-1, 0],
  top: [0, 1],
  bottom: [0, -1],
  "top left": [0.8, 0.6],
  "top right": [-0.8, 0.6],
  "bottom left": [0.8, -0.6],
  "bottom right": [-0.8, -0.6],
};

/** A corner leans by this part of the height at the most. */
const LEAN = 0.25;

/** Nearer to a corner than this part of the height, light comes from the corner. */
const NEAR = 0.08;

/** Where on screen a place of the rim is. */
export function footOf({ edge, position }: RimPlace, { left, top, width, height }: Box): Point {
  if (edge === "top" || edge === "bottom")
    return [left + position * width, edge === "top" ? top : top + height];
  if (edge === "left" || edge === "right")
    return [edge === "left" ? left : left + width, top + position * height];
  const way = edge.endsWith("left") ? 1 : -1;
  const down = edge.startsWith("top") ? 1 : -1;
  const x = way > 0 ? left : left + width;
  const y = down > 0 ? top : top + height;
  const lean = 2 * LEAN * (position - 0.5) * height;
  return lean > 0 ? [x + way * lean, y] : [x, y - down * lean];
}

/** The place of the rim that is nearest to a point of the screen. */
export function rimPlaceAt([x, y]: Point, { left, top, width, height }: Box): RimPlace {
  const across = Math.min(Math.max((x - left) / width, 0), 1);
  const down = Math.min(Math.max((y - top) / height, 0), 1);
  const [toSide, toEnd] = [Math.min(across, 1 - across) * width, Math.min(down, 1 - down) * height];
  const side = across < 0.5 ? "left" : "right";
  const end = down < 0.5 ? "top" : "bottom";
  const onSide = toSide <= toEnd;
  const fromCorner = (onSide ? toEnd : toSide) / height;
  if (fromCorner < NEAR)
    return {
      edge: `${end} ${side}`,
      position: 0.5 + ((onSide ? -1 : 1) * fromCorner) / (2 * LEAN),
    };
  return onSide ? { edge: side, position: down } : { edge: end, position: across };
}
