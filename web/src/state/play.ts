import { AS_SHOT, bench, notice, put } from "./bench";
import { previewHeight, show } from "./pictures";
import { findStep } from "./steps";

/** Play: frames come over a socket, are shown when due, and each shown one makes room. */
let socket: WebSocket | null = null;
let waiting: { frame: number; result: ImageBitmap; base: ImageBitmap | null }[] = [];
let due = 0;
let shownAt: number[] = [];
let ticking = 0;

export function togglePlay() {
  if (bench().playing) pause();
  else play();
}

export function play() {
  const { clip, look, frame, compare, base } = bench();
  if (!clip || !look || clip.frames < 2) return;
  put({ playing: true, trueSize: false, speed: null, played: new Set() });
  waiting = [];
  shownAt = [];
  due = 0;
  const address = window.location.origin.replace(/^http/, "ws");
  const opened = new WebSocket(`${address}/api/play`);
  socket = opened;
  opened.binaryType = "arraybuffer";
  opened.onopen = () => {
    const known = base === AS_SHOT || findStep(look.steps, base);
    const compared = known && ["wipe", "blink", "beside"].includes(compare) ? base : null;
    const height = previewHeight();
    const ask = { type: "start", clip: clip.id, look, frame, height, base: compared };
    opened.send(JSON.stringify(ask));
  };
  opened.onmessage = (event) => {
    if (socket !== opened) return;
    if (typeof event.data === "string") hear(JSON.parse(event.data));
    else void take(event.data, opened);
  };
  opened.onclose = () => {
    if (socket === opened) pause();
  };
  ticking = requestAnimationFrame(tick);
}

export function pause() {
  cancelAnimationFrame(ticking);
  const closing = socket;
  socket = null;
  closing?.close();
  waiting = [];
  if (bench().playing) put({ playing: false });
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
  const frame = header.getUint32(0, true);
  const length = header.getUint32(4, true);
  const jpeg = (start: number, end?: number) =>
    createImageBitmap(new Blob([data.slice(start, end)], { type: "image/jpeg" }));
  const result = await jpeg(8, 8 + length);
  const base = data.byteLength > 8 + length ? await jpeg(8 + length) : null;
  if (socket === from) waiting.push({ frame, result, base });
}

function tick(now: number) {
  ticking = requestAnimationFrame(tick);
  const clip = bench().clip;
  const next = waiting[0];
  if (!clip || !next) return;
  const step = 1000 / clip.rate;
  if (due === 0) due = now;
  if (now < due - 2) return;
  waiting.shift();
  due = now - due > step ? now + step : due + step;
  shownAt = [...shownAt, now].slice(-24);
  const first = shownAt[0] ?? now;
  const speed = shownAt.length > 8 ? (1000 * (shownAt.length - 1)) / (now - first) : null;
  show({ result: next.result, base: next.base });
  const played = bench().played;
  put({
    frame: next.frame,
    speed,
    played: played.has(next.frame) ? played : new Set(played).add(next.frame),
  });
  socket?.send('{"type": "shown"}');
}
