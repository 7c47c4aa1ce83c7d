import { busyWith } from "../api/busy";
import { api, bitmap, type Look, type PictureRequest, Refusal, unwrap } from "../api/client";
import { belowOf } from "../model/stepInput";
import { bench, setState, useBench } from "./bench";
import { notice } from "./notices";
import { AS_SHOT, OWN } from "./slices/compare";

/** The pictures on the wall, and how large they are to be asked for. */
export interface Shown {
  result: ImageBitmap | null;
  base: ImageBitmap | null;
}
export const shown: Shown = { result: null, base: null };

const channel = crypto.randomUUID();
let sequence = 0;
let box = { width: 960, height: 540 };
let dirty = false;
let pumping = false;
let giveUp = new AbortController();
const watchers = new Set<() => void>();

export function watchShown(watcher: () => void) {
  watchers.add(watcher);
  return () => {
    watchers.delete(watcher);
  };
}

export function show(pictures: Partial<Shown>) {
  Object.assign(shown, pictures);
  for (const watcher of watchers) watcher();
}

/** How many pixels the wall has for a picture. */
export function setPreviewBox(width: number, height: number) {
  if (width === box.width && height === box.height) return;
  box = { width, height };
  want();
}

export const previewHeight = () => {
  const clip = bench().clip;
  if (!clip) return 540;
  const fits = Math.min(box.height, (box.width * clip.height) / clip.width);
  return Math.max(32, Math.min(clip.height, Math.round(fits / 2) * 2));
};

/** The picture that is wanted has changed. */
export function want() {
  dirty = true;
  giveUp.abort();
  if (!pumping) void busyWith(pump());
}

/** One picture at a time, always the newest wanted: none can arrive late. */
async function pump() {
  pumping = true;
  while (dirty) {
    dirty = false;
    giveUp = new AbortController();
    const { clip, look, playing, moving } = bench();
    if (!clip || !look || playing) continue;
    try {
      await load(look, moving, giveUp.signal);
      if (!moving && !dirty) await loadPath(look, giveUp.signal);
      if (!moving && !dirty) setState({ looked: new Set(bench().looked).add(bench().frame) });
    } catch (error) {
      const overtaken = error instanceof Refusal && error.status === 409;
      if (!overtaken && !giveUp.signal.aborted) notice("picture", error);
    }
  }
  pumping = false;
}

/** The look of the snapshot that is compared with, if one is. */
function snapshotOf(base: string): Look | undefined {
  return bench().snapshots.find((s) => s.id === base)?.look;
}

async function load(look: Look, quick: boolean, signal: AbortSignal) {
  const { clip, frame, compare, base, holding, trueSize, centre, gain, warns, weighed, open } =
    bench();
  if (!clip) return;
  const kept = snapshotOf(base);
  const ask = (after: string | null, more: Partial<PictureRequest> = {}): PictureRequest => {
    sequence += 1;
    return {
      clip: clip.id,
      frame,
      look: look as never,
      after,
      show: "picture",
      gain,
      height: quick ? Math.round(previewHeight() / 2) : previewHeight(),
      crop: trueSize
        ? { x: centre.x, y: centre.y, width: Math.round(box.width), height: Math.round(box.height) }
        : null,
      channel,
      sequence,
      ...more,
    };
  };
  const seen = (): PictureRequest => {
    if (weighed) return ask(weighed, { show: "weight" });
    const own = base === OWN ? open : null;
    if (compare === "change" && !holding && own)
      return ask(own, { show: "change", base: belowOf(own, look.steps) });
    if (compare === "change" && !holding)
      return ask(
        null,
        kept
          ? { show: "change", base_look: kept as never }
          : { show: "change", base: base === OWN ? AS_SHOT : base },
      );
    return ask(null, warns ? { show: "warnings" } : {});
  };
  const result = await bitmap(seen(), signal);
  const compared = holding || ["wipe", "blink", "beside"].includes(compare);
  show(compared ? { result } : { result, base: null });
  if (!compared || quick) return;
  const other = holding
    ? ask(AS_SHOT)
    : kept
      ? ask(null, { look: kept as never })
      : ask(base === OWN ? AS_SHOT : base);
  show({ base: await bitmap(other, signal) });
}

async function loadPath(look: Look, signal: AbortSignal) {
  const { clip, frame, trueSize } = bench();
  if (!clip) return;
  sequence += 1;
  const height = trueSize ? 270 : previewHeight();
  const body = { clip: clip.id, frame, look: look as never, height, channel, sequence };
  const path = await unwrap(api.POST("/api/path", { body, signal }));
  setState({ thumbnails: { [AS_SHOT]: path.footage, ...path.steps } });
}

/** What of the bench a picture shows. */
const SEEN = [
  "clip",
  "frame",
  "look",
  "compare",
  "base",
  "holding",
  "trueSize",
  "centre",
  "moving",
  "playing",
  "gain",
  "warns",
  "weighed",
] as const;

/** Ask anew whenever something that is seen changes. */
export function startPreviews() {
  useBench.subscribe((now, before) => {
    if (now.playing && before.playing) return;
    const own = now.base === OWN && now.open !== before.open;
    if (own || SEEN.some((key) => now[key] !== before[key])) want();
  });
}
