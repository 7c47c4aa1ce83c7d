import { busyWith } from "../api/busy";
import { api, bitmap, type Look, type PictureRequest, Refusal, unwrap } from "../api/client";
import { belowOf } from "../model/stepInput";
import { isWhole, type Part, pixelsAround, WHOLE } from "../model/viewport";
import { bench, setState, useBench } from "./bench";
import { inWords } from "./look";
import { notice } from "./notices";
import { FOOTAGE, OWN } from "./slices/compare";
import { beforeWindow } from "./uncropped";

/** A picture, and which part of the whole it is. */
export interface Placed {
  picture: ImageBitmap;
  part: Part;
}

/** The pictures on the wall. */
export interface Shown {
  result: Placed | null;
  base: Placed | null;
}
export const shown: Shown = { result: null, base: null };

/** What of the picture the wall shows: lines of the whole, fitted and as it is zoomed, and the part. */
interface Wanted {
  fit: number;
  lines: number;
  part: Part;
}

/** While the wall is dragged wider or narrower, pictures are asked for when it rests. */
const REST_MS = 80;

/** A changed look whose sharp picture takes longer to come is first shown in a quick one. */
const AT_ONCE_MS = 50;

/** A quick picture that takes longer is given up for a newer one. */
const PATIENCE_MS = 250;

const channel = crypto.randomUUID();
let sequence = 0;
let wanted: Wanted = { fit: 540, lines: 540, part: WHOLE };
let resting: ReturnType<typeof setTimeout> | undefined;
let resolveRest = () => {};
let dirty = false;
let pumping = false;
/** When the quick picture that is on its way was asked for; 0 where none is. */
let quickSince = 0;
/** The look that was drawn last, and how long its sharp picture took to come. */
let drawn: Look | null = null;
let sharpMs = 0;
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

/** Say what the wall shows. */
export function setWanted(next: Wanted) {
  const same =
    next.lines === wanted.lines && JSON.stringify(next.part) === JSON.stringify(wanted.part);
  const resized = next.fit !== wanted.fit;
  wanted = next;
  if (same && !resized) return;
  if (!resized) return want();
  clearTimeout(resting);
  resolveRest();
  void busyWith(
    new Promise<void>((done) => {
      resolveRest = done;
      resting = setTimeout(() => {
        want();
        done();
      }, REST_MS);
    }),
  );
}

/** Lines of the fitted picture. */
export const previewHeight = () => evenLines(wanted.fit);

function evenLines(lines: number): number {
  const fullHeight = bench().clip?.height ?? 540;
  return Math.max(32, Math.min(fullHeight, Math.round(lines / 2) * 2));
}

/** The picture that is wanted has changed. */
export function want() {
  dirty = true;
  // a quick one is nearly there, and shows what moves, unless it takes its time
  if (performance.now() - quickSince > PATIENCE_MS) giveUp.abort();
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
      if (moving || (look !== drawn && sharpMs > AT_ONCE_MS)) {
        quickSince = performance.now();
        await load(look, true, giveUp.signal).finally(() => {
          quickSince = 0;
        });
      }
      drawn = look;
      if (!moving && !dirty) {
        const began = performance.now();
        await load(look, false, giveUp.signal);
        sharpMs = performance.now() - began;
      }
      if (!moving && !dirty) await loadPath(look, giveUp.signal);
      if (!moving && !dirty) setState({ looked: new Set(bench().looked).add(bench().frame) });
    } catch (error) {
      const overtaken = error instanceof Refusal && error.status === 409;
      if (!overtaken && !giveUp.signal.aborted) notice("picture", inWords(error));
    }
  }
  pumping = false;
}

/** The look of the snapshot that is compared with, if one is. */
function snapshotOf(base: string): Look | undefined {
  return bench().snapshots.find((s) => s.id === base)?.look;
}

async function load(look: Look, quick: boolean, signal: AbortSignal) {
  const { clip, frame, compare, base, holding, gain, warns, examined, open } = bench();
  if (!clip) return;
  const kept = snapshotOf(base);
  const { lines, part } = wanted;
  const cropped = !isWhole(part);
  const full = lines >= clip.height ? clip.height : evenLines(lines);
  const height = quick ? Math.max(32, Math.round(full / 2)) : full;
  const width = Math.round((clip.width * height) / clip.height);
  const around = pixelsAround(part, { width, height });
  const placeRequest = async (request: PictureRequest): Promise<Placed> => ({
    picture: await bitmap(request, signal),
    part: cropped ? around.part : WHOLE,
  });
  const ask = (after: string | null, more: Partial<PictureRequest> = {}): PictureRequest => {
    sequence += 1;
    return {
      clip: clip.id,
      frame,
      look,
      after,
      show: "picture",
      gain,
      height,
      crop: cropped ? around.window : null,
      channel,
      sequence,
      ...more,
    };
  };
  const requestSeen = (): PictureRequest => {
    if (examined) return ask(examined.step, { show: examined.show });
    const own = base === OWN ? open : null;
    if (compare === "change" && !holding && own)
      return ask(own, { show: "change", base: belowOf(own, look.steps) });
    if (compare === "change" && !holding)
      return ask(
        null,
        kept
          ? { show: "change", base_look: kept }
          : { show: "change", base: base === OWN ? FOOTAGE : base },
      );
    return ask(beforeWindow(bench()), warns ? { show: "warnings" } : {});
  };
  const result = await placeRequest(requestSeen());
  const compared = holding || ["wipe", "blink", "beside"].includes(compare);
  show(compared ? { result } : { result, base: null });
  if (!compared || quick) return;
  const other = holding
    ? ask(FOOTAGE)
    : kept
      ? ask(null, { look: kept })
      : ask(base === OWN ? FOOTAGE : base);
  show({ base: await placeRequest(other) });
}

/** Lines the path is made at where the wall's picture is another's. */
const PATH_LINES = 270;

async function loadPath(look: Look, signal: AbortSignal) {
  const { clip, frame } = bench();
  if (!clip) return;
  sequence += 1;
  const height = isWhole(wanted.part) ? evenLines(wanted.lines) : PATH_LINES;
  const body = { clip: clip.id, frame, look, height, channel, sequence };
  const path = await unwrap(api.POST("/api/v1/path-pictures", { body, signal }));
  setState({ thumbnails: { [FOOTAGE]: path.footage, ...path.steps } });
}

/** What of the bench a picture shows. */
const SEEN = [
  "clip",
  "frame",
  "look",
  "compare",
  "base",
  "holding",
  "moving",
  "playing",
  "gain",
  "warns",
  "examined",
] as const;

/** Ask anew whenever something that is seen changes. */
export function startPreviews() {
  useBench.subscribe((now, before) => {
    if (now.playing && before.playing) return;
    const own = now.base === OWN && now.open !== before.open;
    const back = before.gone && !now.gone;
    const cropped = beforeWindow(now) !== beforeWindow(before);
    if (own || back || cropped || SEEN.some((key) => now[key] !== before[key])) want();
  });
}
