import type { PlayRequest } from "../api/client";
import {
  dueAt,
  fallsBehind,
  frameAt,
  newestDue,
  type PlayClock,
  soundAt,
} from "../model/playClock";
import { WHOLE } from "../model/viewport";
import { bench, setState } from "./bench";
import { notice } from "./notices";
import { playRequest, playSocket } from "./playRequest";
import { show } from "./previews";
import { keepSoundAt, loadSound, pauseSound } from "./sound";

/** Play: frames come over a socket and are shown when the clock says; the sound keeps to it. */
interface Came {
  /** How many frames after the first one it is due. */
  at: number;
  result: ImageBitmap;
  base: ImageBitmap | null;
}

/** Frames that are over before one of smaller pictures can come. */
const LEAD = 6;

/** Frames a second are taken over so many of those shown last. */
const SPEED_OVER = 24;

let socket: WebSocket | null = null;
let waiting: Came[] = [];
let shownAt: number[] = [];
let ticking = 0;
let clock: PlayClock = { since: 0, start: 0, first: 0, count: 1, rate: 24 };
let lastAt = -1;
/** How many frames after the first one the stream began. */
let begun = 0;

export function togglePlay() {
  if (bench().playing) pause();
  else play();
}

export function play() {
  const { clip, slow } = bench();
  const ask = playRequest();
  if (!clip || !ask) return;
  setState({ playing: true, dropped: 0, speed: null });
  shownAt = [];
  lastAt = -1;
  const rate = clip.rate * (slow ? 0.5 : 1);
  const count = (ask.last ?? clip.frames - 1) + 1 - ask.first;
  clock = { since: 0, start: ask.frame, first: ask.first, count, rate };
  stream(ask, 0);
  loadSound(clip, slow);
  ticking = requestAnimationFrame(tick);
}

/** Have frames come from the one on that is due so many after the first. */
function stream(ask: PlayRequest, from: number) {
  setState({ played: new Set() });
  waiting = [];
  begun = from;
  const opened = playSocket();
  socket = opened;
  opened.binaryType = "arraybuffer";
  opened.onopen = () => opened.send(JSON.stringify({ type: "start", ...ask }));
  opened.onmessage = (event) => {
    if (socket !== opened) return;
    if (typeof event.data === "string") receive(JSON.parse(event.data));
    else void take(event.data, opened);
  };
  opened.onclose = () => {
    if (socket === opened) pause();
  };
}

/** Go on with smaller pictures, once a play: too many frames were left out. The clock goes on. */
function giveWay(due: number) {
  setState({ smaller: true });
  const ask = playRequest();
  if (!ask) return;
  const behind = socket;
  const from = due + LEAD;
  stream({ ...ask, frame: frameAt(clock, from) }, from);
  behind?.close();
}

export function pause() {
  cancelAnimationFrame(ticking);
  const closing = socket;
  socket = null;
  closing?.close();
  pauseSound();
  waiting = [];
  const { playing, smaller, played } = bench();
  // what was kept of smaller pictures is not kept of those that are shown at rest
  if (playing) setState({ playing: false, smaller: false, played: smaller ? new Set() : played });
}

function receive(message: { type: string; detail?: string; frames?: number[] }) {
  if (message.type === "held") setState({ played: new Set(message.frames) });
  if (message.type === "error") {
    notice("picture", message.detail ?? "play broke off");
    pause();
  }
}

async function take(data: ArrayBuffer, from: WebSocket) {
  const header = new DataView(data);
  const at = header.getUint32(0, true) + begun;
  const length = header.getUint32(4, true);
  const jpeg = (start: number, end: number) =>
    createImageBitmap(new Blob([new Uint8Array(data, start, end - start)], { type: "image/jpeg" }));
  const result = await jpeg(8, 8 + length);
  const end = data.byteLength;
  const base = end > 8 + length ? await jpeg(8 + length, end) : null;
  if (socket === from) {
    waiting.push({ at, result, base });
    waiting.sort((a, b) => a.at - b.at);
  }
}

function tick(now: number) {
  ticking = requestAnimationFrame(tick);
  const clip = bench().clip;
  if (!clip || (lastAt < 0 && !waiting.length)) return;
  if (lastAt < 0) clock.since = now;
  const { due } = dueAt(clock, now);
  keepSoundAt(soundAt(clock, now, clip.rate), now);
  const { next, rest, skipped } = newestDue(waiting, due);
  if (!next) return;
  waiting = rest;
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
  if (!bench().smaller && fallsBehind(next.at + 1, bench().dropped)) return giveWay(due);
  // every frame that came is answered, those left out as well: the server sends as many ahead
  for (let i = 0; i <= skipped; i += 1)
    socket?.send(JSON.stringify({ type: "shown", due: due - begun }));
}
