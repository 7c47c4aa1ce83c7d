import {
  boundedZoom,
  centreFor,
  type Extent,
  nextZoom,
  onPicture,
  type Place,
  type Viewport,
} from "../model/viewport";
import { bench, setState } from "./bench";

/** How the picture stands on the wall just now: the wall says it, what zooms needs it. */
interface Standing {
  room: Extent;
  /** Screen pixels for one CSS pixel. */
  ratio: number;
  view: Viewport;
}

let standing: Standing | null = null;
/** Where the pointer is in the room; null while it is elsewhere. */
let pointer: Place | null = null;

export function standsAs(next: Standing) {
  standing = next;
}

export function pointedAt(at: Place | null) {
  pointer = at;
}

/**
 * Zoom to so many screen pixels for one of the footage; null fits the picture in.
 *
 * What is under the pointer stays there, or else what is in the middle.
 */
export function zoomTo(zoom: number | null) {
  const { clip } = bench();
  if (zoom === null || !clip || !standing) return setState({ zoom });
  const { room, ratio, view } = standing;
  const at = pointer ?? { x: room.width / 2, y: room.height / 2 };
  const bounded = boundedZoom(zoom);
  const centre = centreFor(room, clip, ratio, bounded, onPicture(view, at), at);
  setState({ zoom: bounded, centre });
}

export function zoomBy(way: 1 | -1) {
  zoomTo(nextZoom(bench().zoom ?? standing?.view.zoom ?? 1, way));
}
