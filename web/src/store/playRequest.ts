import type { PlayRequest } from "../api/client";
import { findStep } from "../model/lookTree";
import { smallerHeight } from "../model/playClock";
import { belowOf } from "../model/stepInput";
import { bench } from "./bench";
import { previewHeight } from "./previews";
import { FOOTAGE, OWN } from "./slices/compare";

/** Lines of the pictures that are shown now: of play, once it gave way, fewer than at rest. */
export const shownHeight = (): number =>
  bench().smaller ? smallerHeight(previewHeight()) : previewHeight();

/** What play shows as the page is now, as the server is asked for it; null where nothing can play. */
export function playRequest(): PlayRequest | null {
  const { clip, look, compare, base, range, gain, open } = bench();
  if (!clip || !look || clip.frames < 2) return null;
  const [first, last] = range ?? [0, clip.frames - 1];
  const frame = Math.min(Math.max(bench().frame, first), last);
  const own = compare === "change" && base === OWN ? open : null;
  const against = own ? belowOf(own, look.steps) : base;
  const known = against === FOOTAGE || findStep(look.steps, against);
  const compared = known && compare !== "plain" ? against : null;
  const change = compare === "change" && compared ? gain : null;
  const height = shownHeight();
  return { clip: clip.id, look, frame, first, last, height, after: own, base: compared, change };
}

/** The socket of play. */
export const playSocket = () =>
  new WebSocket(`${window.location.origin.replace(/^http/, "ws")}/api/v1/play`);
