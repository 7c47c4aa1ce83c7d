import { useBench } from "../../store/bench";

/** The path with an open step: a part of the window's height, within bounds. */
const PART = 0.19;
export const LEAST_PATH = 178;
const MOST = 260;
/** As high as it can be dragged, of the window. */
const MOST_PART = 0.55;

export const mostPath = () => Math.max(LEAST_PATH, Math.round(window.innerHeight * MOST_PART));

/** How high the path is while a step is open, in CSS pixels: as it was put, or by itself. */
export function usePathHeight(): number {
  const put = useBench((s) => s.pathHeight);
  const by = Math.min(Math.max(Math.round(window.innerHeight * PART), LEAST_PATH), MOST);
  return Math.min(Math.max(put ?? by, LEAST_PATH), mostPath());
}
