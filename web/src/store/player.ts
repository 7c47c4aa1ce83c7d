import type { Look, PlayRequest } from "../api/client";
import {
  dueAt,
  fallsBehind,
  frameAt,
  isAssured,
  type PlayClock,
  soundAt,
} from "../model/playClock";
import { WHOLE } from "../model/viewport";
import { bench, setState } from "./bench";
import { FrameStream } from "./frameStream";
import { notice } from "./notices";
import { playRequest } from "./playRequest";
import { show } from "./previews";
import { clipSound, expectSound, keepSounds, pauseSounds } from "./sound";

/** Play: frames come over a socket and are shown when the clock says; the sound keeps to it. */

/** Frames that are over before one of smaller pictures can come. */
const LEAD = 6;

/** Frames a second are taken over so many of those shown last. */
const SPEED_OVER = 24;

let frames: FrameStream | null = null;
let shownAt: number[] = [];
let ticking = 0;
let clock: PlayClock = { since: 0, start: 0, first: 0, count: 1, rate: 24 };
let lastAt = -1;
/** The look whose play gave way to smaller pictures: it begins with those until others are made. */
let gaveWay: Look | null = null;

export function togglePlay() {
  if (bench().playing) pause();
  else play();
}

export function play() {
  const { clip, look, slow, played } = bench();
  const whole = playRequest();
  if (!clip || !whole) return;
  shownAt = [];
  lastAt = -1;
  const rate = clip.rate * (slow ? 0.5 : 1);
  const count = (whole.last ?? clip.frames - 1) + 1 - whole.first;
  clock = { since: 0, start: whole.frame, first: whole.first, count, rate };
  const smaller = gaveWay === look && !isAssured(played, clock);
  setState({ playing: true, dropped: 0, speed: null, smaller });
  stream(playRequest() ?? whole, 0);
  expectClipSound();
  ticking = requestAnimationFrame(tick);
}

/** Have the clip's sound be there when it is played. */
export function expectClipSound() {
  const { clip } = bench();
  const address = clip && clipSound(clip);
  if (address) expectSound(address);
}

/** Have frames come from the one on that is due so many after the first. */
function stream(ask: PlayRequest, from: number) {
  setState({ played: new Set() });
  frames = new FrameStream(ask, from, {
    held: (kept) => setState({ played: new Set(kept) }),
    failed: (why) => {
      notice("picture", why);
      pause();
    },
    ended: pause,
  });
}

/** Go on with smaller pictures, once a play: too many frames were left out. The clock goes on. */
function giveWay(due: number) {
  gaveWay = bench().look;
  setState({ smaller: true });
  const ask = playRequest();
  if (!ask) return;
  frames?.close();
  const from = due + LEAD;
  stream({ ...ask, frame: frameAt(clock, from) }, from);
}

export function pause() {
  cancelAnimationFrame(ticking);
  frames?.close();
  frames = null;
  pauseSounds();
  const { playing, smaller, played } = bench();
  // what was kept of smaller pictures is not kept of those that are shown at rest
  if (playing) setState({ playing: false, smaller: false, played: smaller ? new Set() : played });
}

function tick(now: number) {
  ticking = requestAnimationFrame(tick);
  const clip = bench().clip;
  if (!clip || !frames || (lastAt < 0 && !frames.isReady)) return;
  if (lastAt < 0) clock.since = now;
  const { due } = dueAt(clock, now);
  const address = clipSound(clip);
  const seconds = soundAt(clock, now, clip.rate);
  keepSounds(address ? [{ address, seconds, gain: 1, slow: bench().slow }] : [], now);
  const next = frames.newest(due);
  if (!next) return;
  const left = lastAt < 0 ? 0 : next.at - lastAt - 1;
  lastAt = next.at;
  shownAt = [...shownAt, now].slice(-SPEED_OVER);
  const first = shownAt[0] ?? now;
  const speed = shownAt.length > 8 ? (1000 * (shownAt.length - 1)) / (now - first) : null;
  const all = (picture: ImageBitmap) => ({ picture, part: WHOLE });
  show({ result: all(next.result), base: next.base && all(next.base) });
  const frame = frameAt(clock, next.at);
  const { played, dropped } = bench();
  setState({
    frame,
    speed,
    dropped: dropped + left,
    played: played.has(frame) ? played : new Set(played).add(frame),
  });
  if (!bench().smaller && fallsBehind(next.at + 1, bench().dropped)) giveWay(due);
}
