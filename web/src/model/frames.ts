import type { Step } from "../api/client";

/** Where crops and letterboxes leave the frame, and which window of the picture they show in it. */

export type Point = [number, number];

/** Where places come to lie, in parts of the frame. */
export type Move = (place: Point) => Point;

export interface Size {
  width: number;
  height: number;
}

export interface Box extends Size {
  left: number;
  top: number;
}

/** A window of the picture: its shape, its part of the largest one, and where it lies. */
export interface Framing {
  ratio: number;
  part: number;
  place: Point;
  /** The place is counted from edge to edge, and is not the window's middle. */
  align: boolean;
}

export const SMALLEST_PART = 0.02;

const WINDOWS = ["crop", "letterbox"];

export const isWindow = (step: Step) => WINDOWS.includes(step.treatment);

export const framingOf = ({ settings }: Step): Framing => ({
  ratio: Number(settings.ratio),
  part: Number(settings.size),
  place: settings.place as Point,
  align: Boolean(settings.align),
});

/** All of a picture. */
export const wholeOf = ({ width, height }: Size): Box => ({ left: 0, top: 0, width, height });

/** The largest box of a ratio in the middle of a picture. */
export function ratioBox(ratio: number, { width, height }: Size): Box {
  const wide = Math.min(width, height * ratio);
  const high = Math.min(height, width / ratio);
  return { left: (width - wide) / 2, top: (height - high) / 2, width: wide, height: high };
}

const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

/** The window in the picture below; it is held within it. */
export function windowIn({ ratio, part, place, align }: Framing, size: Size): Box {
  const frame = ratioBox(ratio, size);
  const [width, height] = [frame.width * part, frame.height * part];
  const start = (whole: number, length: number, at: number) =>
    clamp(align ? at * (whole - length) : at * whole - length / 2, 0, whole - length);
  return {
    left: start(size.width, width, place[0]),
    top: start(size.height, height, place[1]),
    width,
    height,
  };
}

/** The place of a window that begins at a corner, as near as it can be. */
export function placeOfWindow(
  left: number,
  top: number,
  { ratio, part, place, align }: Framing,
  size: Size,
): Point {
  const frame = ratioBox(ratio, size);
  const placeAlong = (from: number, whole: number, length: number, before: number) => {
    const held = clamp(from, 0, whole - length);
    if (!align) return (held + length / 2) / whole;
    return whole - length > 1e-6 ? held / (whole - length) : before;
  };
  return [
    placeAlong(left, size.width, frame.width * part, place[0]),
    placeAlong(top, size.height, frame.height * part, place[1]),
  ];
}

/**
 * A window made larger or smaller by one of its corners, the one across from it held.
 *
 * `corner` is ±1 across and down; the window ends at the picture's edges.
 */
export function resizedWindow(
  framing: Framing,
  corner: Point,
  by: Point,
  size: Size,
): { part: number; place: Point } {
  const box = windowIn(framing, size);
  const frame = ratioBox(framing.ratio, size);
  const [right, down] = corner;
  const held: Point = [
    right > 0 ? box.left : box.left + box.width,
    down > 0 ? box.top : box.top + box.height,
  ];
  const room: Point = [
    right > 0 ? size.width - held[0] : held[0],
    down > 0 ? size.height - held[1] : held[1],
  ];
  const along = right * by[0] * box.width + down * by[1] * box.height;
  const grown = framing.part * (1 + along / (box.width ** 2 + box.height ** 2));
  const largest = Math.min(1, room[0] / frame.width, room[1] / frame.height);
  const part = clamp(grown, SMALLEST_PART, largest);
  const left = right > 0 ? held[0] : held[0] - frame.width * part;
  const top = down > 0 ? held[1] : held[1] - frame.height * part;
  return { part, place: placeOfWindow(left, top, { ...framing, part }, size) };
}

/** Where a box of the picture below is seen after a window. */
export function seenThrough(box: Box, framing: Framing, size: Size): Box {
  const window = windowIn(framing, size);
  const frame = ratioBox(framing.ratio, size);
  return {
    left: (box.left - window.left) / framing.part + frame.left,
    top: (box.top - window.top) / framing.part + frame.top,
    width: box.width / framing.part,
    height: box.height / framing.part,
  };
}

const windowsOf = (row: Step[]) => row.filter((step) => step.on && isWindow(step));

/** The frame that is left after the steps of a row. */
export function leftAfter(row: Step[], size: Size): Box {
  const last = windowsOf(row).at(-1);
  return last ? ratioBox(Number(last.settings.ratio), size) : wholeOf(size);
}

/** Where the frame as shot is seen after the steps of a row. */
export const asShotAfter = (row: Step[], size: Size): Box =>
  windowsOf(row).reduce(
    (seen, window) => seenThrough(seen, framingOf(window), size),
    wholeOf(size),
  );

/** Where a box of the picture at a step is seen at the end of its row. */
export function seenAtEnd(box: Box, step: Step, row: Step[], size: Size): Box {
  const later = windowsOf(row.slice(row.findIndex((s) => s.id === step.id) + 1));
  return later.reduce((seen, window) => seenThrough(seen, framingOf(window), size), box);
}
