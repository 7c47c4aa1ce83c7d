import type { Step } from "../api/client";
import type { Box, Point, Size } from "./frames";

/** How a plate lies in the frame: its settings. */
export interface PlateSettings {
  fit: string;
  scale: number;
  turn: number;
  place: Point;
  align: boolean;
}

export const plateOf = ({ settings }: Step): PlateSettings => ({
  fit: String(settings.fit),
  scale: Number(settings.scale),
  turn: Number(settings.turn),
  place: settings.place as Point,
  align: Boolean(settings.align),
});

/** A plate where it lies: its middle, and its size before it is turned. */
export interface LaidPlate extends Size {
  middle: Point;
}

/** Width and height of what stands upright around a turned box. */
function boundingSize({ width, height }: Size, turn: number): Size {
  const angle = (turn * Math.PI) / 180;
  const [c, s] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  return { width: width * c + height * s, height: width * s + height * c };
}

/** Where a plate of its own size lies in the frame `box`. */
export function layPlate(plate: PlateSettings, own: Size, box: Box): LaidPlate {
  const wide = boundingSize(box, plate.turn);
  const outer = boundingSize(own, plate.turn);
  let [byX, byY] = [wide.width / own.width, wide.height / own.height];
  if (plate.fit === "fill") byX = byY = Math.max(byX, byY);
  else if (plate.fit === "fit")
    byX = byY = Math.min(box.width / outer.width, box.height / outer.height);
  const size = { width: own.width * byX * plate.scale, height: own.height * byY * plate.scale };
  const tall = boundingSize(size, plate.turn);
  const placeAlong = (whole: number, length: number, at: number) =>
    plate.align ? (whole - length) * at + length / 2 : whole * at;
  return {
    ...size,
    middle: [
      box.left + placeAlong(box.width, tall.width, plate.place[0]),
      box.top + placeAlong(box.height, tall.height, plate.place[1]),
    ],
  };
}

/** The place of a plate whose middle is put there; what has no room to move stays. */
export function placeOfPlate(middle: Point, plate: PlateSettings, laid: Size, box: Box): Point {
  const tall = boundingSize(laid, plate.turn);
  const placeAlong = (at: number, whole: number, length: number, before: number) => {
    if (!plate.align) return at / whole;
    return Math.abs(whole - length) > 0.5 ? (at - length / 2) / (whole - length) : before;
  };
  return [
    placeAlong(middle[0] - box.left, box.width, tall.width, plate.place[0]),
    placeAlong(middle[1] - box.top, box.height, tall.height, plate.place[1]),
  ];
}
