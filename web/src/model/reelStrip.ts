import type { PlacedItem } from "./reel";

/** A reel's shots side by side, in CSS pixels from the strip's left. */
export interface Strip {
  cells: { left: number; width: number }[];
  whole: number;
}

/** CSS pixels: how tall the ruler over the shots is, and a shot. */
export const RULER = 24;
export const TALL = 68;

/** The narrowest cell in which a picture can be told, and the narrowest of all. */
const TOLD = 64;
const NARROWEST = 28;

/** As wide as they are long, where all can be seen so within the room; else alike, and wider. */
export function laidOut(all: PlacedItem[], room: number): Strip {
  const length = all.at(-1)?.ends ?? 1;
  const own = all.map(({ begins, ends }) => ((ends - begins) * room) / length);
  const alike = Math.max(TOLD, room / Math.max(all.length, 1));
  const widths = Math.min(...own) >= NARROWEST ? own : own.map(() => alike);
  let left = 0;
  const cells = widths.map((width) => {
    const cell = { left, width };
    left += width;
    return cell;
  });
  return { cells, whole: left };
}

/** The frame of the reel at a place of the strip. */
export function frameUnder(all: PlacedItem[], { cells }: Strip, x: number): number {
  const n = Math.max(
    cells.findLastIndex(({ left }) => left <= x),
    0,
  );
  const [here, cell] = [all[n], cells[n]];
  if (!here || !cell) return 0;
  const part = Math.min(Math.max((x - cell.left) / cell.width, 0), 0.999);
  return Math.floor(here.begins + part * (here.ends - here.begins));
}

/** Where a frame begins in the strip; the strip's end for one past the last. */
export function headAt(all: PlacedItem[], { cells, whole }: Strip, frame: number): number {
  const n = all.findIndex(({ begins, ends }) => begins <= frame && frame < ends);
  const [here, cell] = [all[n], cells[n]];
  if (!here || !cell) return frame > 0 ? whole : 0;
  return cell.left + ((frame - here.begins) / (here.ends - here.begins)) * cell.width;
}

/** Before which item something is put that is let go at a place of the strip. */
export const placeUnder = ({ cells }: Strip, x: number): number =>
  cells.filter(({ left, width }) => x > left + width / 2).length;
