/** Which part of a clip the filmstrip and the lanes show: how many times enlarged, and from where. */
export interface TimeView {
  /** 1 shows all of the clip. */
  zoom: number;
  /** Where the part begins, 0 to 1 of the clip. */
  from: number;
}

export const ALL: TimeView = { zoom: 1, from: 0 };

/** Frames that stay in view at the most enlarged. */
const FEWEST = 8;
/** How near to an end of the view the play head may come as it moves. */
const EDGE = 0.02;

const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

const viewAt = (zoom: number, from: number): TimeView => ({
  zoom,
  from: clamp(from, 0, 1 - 1 / zoom),
});

/** Where a frame's middle is, 0 to 1 of the clip. */
const middleOf = (frame: number, frames: number) => (frame + 0.5) / frames;

/** The view so many times as enlarged; the play head stays where it is seen. */
export function zoomedAbout(view: TimeView, by: number, frame: number, frames: number): TimeView {
  const zoom = clamp(view.zoom * by, 1, Math.max(1, frames / FEWEST));
  const head = middleOf(frame, frames);
  const seen = clamp((head - view.from) * view.zoom, 0, 1);
  return viewAt(zoom, head - seen / zoom);
}

/** The view moved so that a frame is in it; the same view where it is already. */
export function following(view: TimeView, frame: number, frames: number): TimeView {
  const seen = (middleOf(frame, frames) - view.from) * view.zoom;
  if (view.zoom === 1 || (seen >= EDGE && seen <= 1 - EDGE)) return view;
  const before = seen > 1 - EDGE ? 0.1 : 0.9; // room on the side it moves to
  const moved = viewAt(view.zoom, middleOf(frame, frames) - before / view.zoom);
  return moved.from === view.from ? view : moved;
}

/** The view moved along by a part of what it shows. */
export const shiftView = (view: TimeView, by: number): TimeView =>
  viewAt(view.zoom, view.from + by / view.zoom);
