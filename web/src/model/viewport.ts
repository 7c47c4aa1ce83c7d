/** Which part of a picture a room shows, and where in the room it stands. */

export interface Extent {
  width: number;
  height: number;
}

export interface Place {
  x: number;
  y: number;
}

/** A part of the picture, in parts of its width and height. */
export interface Part extends Place, Extent {}

export const WHOLE: Part = { x: 0, y: 0, width: 1, height: 1 };

/** Screen pixels for one of the footage: 12 % to 800 %. */
export const LEAST_ZOOM = 0.12;
export const MOST_ZOOM = 8;
export const ZOOMS = [0.12, 0.25, 0.5, 0.75, 1, 1.5, 2, 3, 4, 6, 8];

export interface Viewport {
  /** The whole picture in the room, in CSS pixels; it may be larger than the room. */
  left: number;
  top: number;
  width: number;
  height: number;
  /** What of it lies in the room. */
  seen: Part;
  /** Screen pixels for one of the footage. */
  zoom: number;
}

const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

export const boundedZoom = (zoom: number) => clamp(zoom, LEAST_ZOOM, MOST_ZOOM);

/** One side of a picture in a room: where it begins, on a screen pixel, and what of it is seen. */
function placeAlong(room: number, length: number, centre: number, ratio: number) {
  if (length <= room) return { start: Math.round((room - length) / 2), from: 0, share: 1 };
  const share = room / length;
  const from = clamp(centre - share / 2, 0, 1 - share);
  const start = Math.floor(from * length * ratio + 1e-6) / ratio;
  return { start: -start, from: start / length, share };
}

/**
 * The view of a picture in a room.
 *
 * `zoom` null fits the whole picture in; `ratio` is screen pixels for one CSS pixel; `centre` is the
 * place of the picture that is to be in the middle, as far as the picture has no edge there.
 */
export function viewport(
  room: Extent,
  picture: Extent,
  ratio: number,
  zoom: number | null,
  centre: Place,
): Viewport {
  const fit = Math.min(room.width / picture.width, room.height / picture.height);
  const scale = zoom === null ? fit : zoom / ratio;
  const [width, height] = [picture.width * scale, picture.height * scale];
  const across = placeAlong(room.width, width, centre.x, ratio);
  const down = placeAlong(room.height, height, centre.y, ratio);
  return {
    left: across.start,
    top: down.start,
    width,
    height,
    seen: { x: across.from, y: down.from, width: across.share, height: down.share },
    zoom: scale * ratio,
  };
}

/** A place of the room as one of the picture, held to its edges. */
export const onPicture = (view: Viewport, at: Place): Place => ({
  x: clamp((at.x - view.left) / view.width, 0, 1),
  y: clamp((at.y - view.top) / view.height, 0, 1),
});

/** The centre that keeps a place of the picture where it is in the room while the zoom changes. */
export function centreFor(
  room: Extent,
  picture: Extent,
  ratio: number,
  zoom: number,
  held: Place,
  at: Place,
): Place {
  const scale = zoom / ratio;
  return {
    x: clamp(held.x + (room.width / 2 - at.x) / (picture.width * scale), 0, 1),
    y: clamp(held.y + (room.height / 2 - at.y) / (picture.height * scale), 0, 1),
  };
}

/** The next zoom of the row, larger (1) or smaller (-1) than the one there is. */
export function nextZoom(zoom: number, way: 1 | -1): number {
  const further = ZOOMS.filter((z) => (way > 0 ? z > zoom * 1.001 : z < zoom / 1.001));
  return (way > 0 ? further[0] : further.at(-1)) ?? boundedZoom(zoom);
}

/** Whole pixels around a part of a picture of some lines: what is asked for, and its exact part. */
export function pixelsAround(part: Part, size: Extent): { window: Part; part: Part } {
  const left = Math.floor(part.x * size.width + 1e-6);
  const top = Math.floor(part.y * size.height + 1e-6);
  const right = Math.ceil((part.x + part.width) * size.width - 1e-6);
  const bottom = Math.ceil((part.y + part.height) * size.height - 1e-6);
  const [width, height] = [Math.max(right - left, 1), Math.max(bottom - top, 1)];
  return {
    window: {
      x: (left + width / 2) / size.width,
      y: (top + height / 2) / size.height,
      width,
      height,
    },
    part: {
      x: left / size.width,
      y: top / size.height,
      width: width / size.width,
      height: height / size.height,
    },
  };
}

export const isWhole = (part: Part) => part.width >= 1 && part.height >= 1;

/** A part of the picture in pixels of a canvas that shows `seen`. */
export function drawnAt(part: Part, seen: Part, canvas: Extent): Part {
  return {
    x: ((part.x - seen.x) / seen.width) * canvas.width,
    y: ((part.y - seen.y) / seen.height) * canvas.height,
    width: (part.width / seen.width) * canvas.width,
    height: (part.height / seen.height) * canvas.height,
  };
}

/** Width of the readings: what the fitted picture leaves, within bounds; or as it was put. */
export function sideWidth(row: Extent, picture: Extent, put: number | null, least: number): number {
  if (put !== null) return clamp(put, least, Math.max(least, row.width - 480));
  const taken = (row.height * picture.width) / picture.height;
  return clamp(Math.floor(row.width - taken), least, Math.max(288, Math.round(row.width * 0.26)));
}
