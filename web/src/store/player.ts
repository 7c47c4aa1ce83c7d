import type { Clip } from "../api/client";
import { belowOf } from "../model/stepInput";
import { AS_SHOT, bench, notice, OWN, put } from "./bench";
import { previewHeight, show } from "./previews";
import { findStep } from "../model/lookTree";

/** Play: frames come over a socket and are shown when the clock says; the sound keeps to it. */
interface Came {
  /** How many frames after the first one it is due. */
  at: number;
  result: ImageBitmap;
  base: ImageBitmap | null;
}

/** Seconds the sound may be off the picture before it is put right, and between two tries. */
const OFF = 0.04;
const TRY_MS = 500;

let socket: WebSocket | null = null;
let waiting: Came[] = [];
let shownAt: number[] = [];
let ticking = 0;
/** When the first frame was shown, which frame that was, the range, and frames a second. */
let clock = { since: 0, start: 0, first: 0, count: 1, rate: 24 };
let lastAt = -1;
let putRight = 0;
const sound = new Audio();
sound.preservesPitch = true;
sound.hidden = true;
document.body.append(sound);
sound.onerror = () => {
  if (sound.hasAttribute("src") && bench().playing)
    notice("picture", "The clip's sound can't be played; its pictures are played without it.");
};

export function togglePlay() {
  if (bench().playing) pause();
  else play();
}

export function play() {
  const { clip, look, compare, base, range, slow, gain, open } = bench();
  if (!clip || !look || clip.frames < 2) return;
  const [first, last] = range ?? [0, clip.frames - 1];
  const frame = Math.min(Math.max(bench().frame, first), last);
  put({ playing: true, trueSize: false, speed: null, dropped: 0, played: new Set() });
  waiting = [];
  shownAt = [];
  lastAt = -1;
  putRight = 0;
  const rate = clip.rate * (slow ? 0.5 : 1);
  clock = { since: 0, start: frame, first, count: last + 1 - first, rate };
  const address = window.location.origin.replace(/^http/, "ws");
  const opened = new WebSocket(`${address}/api/play`);
  socket = opened;
  opened.binaryType = "arraybuffer";
  opened.onopen = () => {
    const own = compare === "change" && base === OWN ? open : null;
    const against = own ? belowOf(own) : base;
    const known = against === AS_SHOT || findStep(look.steps, against);
    const compared = known && compare !== "plain" ? against : null;
    const change = compare === "change" && compared ? gain : null;
    const ask = { clip: clip.id, look, frame, first, last, height: previewHeight() };
    opened.send(JSON.stringify({ type: "start", ...ask, after: own, base: compared, change }));
  };
  opened.onmessage = (event) => {
    if (socket !== opened) return;
    if (typeof event.data === "string") hear(JSON.parse(event.data));
    else void take(event.data, opened);
  };
  opened.onclose = () => {
    if (socket === opened) pause();
  };
  hearClip(clip, slow);
  ticking = requestAnimationFrame(tick);
}

/** The sound begins with the first frame that is shown; a clip may have none. */
function hearClip(clip: Clip, slow: boolean) {
  if (!clip.audio.length) {
    sound.removeAttribute("src");
    return;
  }
  const mark = encodeURIComponent(JSON.stringify(clip.reading));
  const address = `/api/clips/${clip.id}/sound?read=${mark}`;
  if (!sound.src.endsWith(address)) sound.src = address;
  sound.playbackRate = slow ? 0.5 : 1;
}

export function pause() {
  cancelAnimationFrame(ticking);
  const closing = socket;
  socket = null;
  closing?.close();
  sound.pause();
  waiting = [];
  if (bench().playing) put({ playing: false });
}

/** Keep the sound at the clock's place; where it has not come yet, play goes on without. */
function keepSound(seconds: number, now: number) {
  const over = seconds >= sound.duration - OFF;
  if (!sound.src || bench().quiet || over) {
    if (!sound.paused) sound.pause();
    return;
  }
  if (sound.readyState < HTMLMediaElement.HAVE_CURRENT_DATA || sound.seeking) return;
  if (now - putRight < TRY_MS) return; // a seek takes its time, and costs the server some
  const off = Math.abs(sound.currentTime - seconds) > OFF;
  if (!off && !sound.paused) return;
  putRight = now;
  if (off) sound.currentTime = seconds;
  if (sound.paused) void sound.play().catch(() => undefined);
}

function hear(message: { type: string; detail?: string; frames?: number[] }) {
  if (message.type === "held") put({ played: new Set(message.frames) });
  if (message.type === "error") {
    notice("picture", message.detail ?? "play broke off");
    pause();
  }
}

async function take(data: ArrayBuffer, from: WebSocket) {
  const header = new DataView(data);
  const at = header.getUint32(0, true);
  const length = header.getUint32(4, true);
  const jpeg = (start: number, end?: number) =>
    createImageBitmap(new Blob([data.slice(start, end)], { type: "image/jpeg" }));
  const result = await jpeg(8, 8 + length);
  const base = data.byteLength > 8 + length ? await jpeg(8 + length) : null;
  if (socket === from) {
    waiting.push({ at, result, base });
    waiting.sort((a, b) => a.at - b.at);
  }
}

/** The frame that is due so many frames after the first. */
const frameAt = (at: number) =>
  clock.first + ((((clock.start - clock.first + at) % clock.count) + clock.count) % clock.count);

function tick(now: number) {
  ticking = requestAnimationFrame(tick);
  const clip = bench().clip;
  let next = waiting[0];
  if (!clip || (lastAt < 0 && !next)) return;
  if (lastAt < 0) clock.since = now;
  const exact = ((now - clock.since) * clock.rate) / 1000;
  const due = Math.floor(exact + 0.02);
  keepSound((frameAt(due) + exact - due) / clip.rate, now);
  if (!next || next.at > due) return;
  // what came too late for its time is left out; the newest that is due is shown
  while (waiting[1] && waiting[1].at <= due) {
    waiting.shift();
    next = waiting[0] as Came;
    socket?.send(JSON.stringify({ type: "shown", due }));
  }
  waiting.shift();
  const left = lastAt < 0 ? 0 : next.at - lastAt - 1;
  lastAt = next.at;
  shownAt = [...shownAt, now].slice(-24);
  const first = shownAt[0] ?? now;
  const speed = shownAt.length > 8 ? (1000 * (shownAt.length - 1)) / (now - first) : null;
  show({ result: next.result, base: next.base });
  const frame = frameAt(next.at);
  const { played, dropped } = bench();
  put({
    frame,
    speed,
    dropped: dropped + left,
    played: played.has(frame) ? played : new Set(played).add(frame),
  });
  socket?.send(JSON.stringify({ type: "shown", due }));
}
