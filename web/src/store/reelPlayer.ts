import { busyWith } from "../api/busy";
import {
  type Clip,
  type ReelItem,
  type ReelPlayRequest,
  type ReelSound,
  refusal,
} from "../api/client";
import { queryClient } from "../api/queries";
import {
  dueAt,
  fallsBehind,
  frameAt,
  isAssured,
  type PlayClock,
  smallerHeight,
} from "../model/playClock";
import { clipFrame, itemAt, lengthOf, placeItems, reelPicture } from "../model/reel";
import { gainOf, soundsAt, soundsSoon } from "../model/reelSounds";
import { FrameStream } from "./frameStream";
import { holdTurns } from "./imageTurns";
import { notice } from "./notices";
import { reelKept, reelState, useReel } from "./reel";
import { clipSound, expectSound, fileSound, keepSounds, pauseSounds, type Sounding } from "./sound";

/** The reel's picture: at rest the newest that is wanted, in play those that are due. */

type Drawn = (picture: ImageBitmap) => void;

/** Frames that are over before one of smaller pictures can come. */
const LEAD = 6;

/** Frames before a shot's end at which the next one's sound is asked for. */
const SOUND_AHEAD = 72;

/** Sounds that are asked for before a reel is played. */
const EXPECTED = 6;

let draw: Drawn | null = null;
let frames: FrameStream | null = null;
let clock: PlayClock = { since: 0, start: 0, first: 0, count: 1, rate: 24 };
let ticking = 0;
let lastAt = -1;
/** Pictures are smaller in this play, to keep its rate. */
let smaller = false;
/** The cut, and its looks, whose play gave way: it begins with those until others are made. */
let gaveWay = "";

/** Say what draws, how large, and which looks the pictures are made with, which may change. */
export function drawReel(how: Drawn | null, height: number, madeWith: string) {
  draw = how;
  const lines = how ? Math.max(32, Math.min(2160, 2 * Math.round(height / 2))) : 0;
  useReel.setState({ lines, madeWith });
  if (draw && !reelState().playing) wantReelPicture();
}

let wanted = 0;
let pumping = false;

/** The picture that is wanted has changed. */
export function wantReelPicture() {
  const { reel, playing, lines } = reelState();
  if (!reel?.items.length || playing || !lines) return;
  wanted += 1;
  if (!pumping) void busyWith(pump());
}

/** One picture at a time, always the newest wanted. */
async function pump() {
  pumping = true;
  holdTurns(true);
  let made = 0;
  while (made !== wanted) {
    made = wanted;
    try {
      await reelKept();
      const { kept, frame, plain, lines, madeWith: looks } = reelState();
      if (!kept || !lines) continue;
      const response = await fetch(reelPicture({ kept, plain, looks }, frame, lines)).catch(() => {
        throw refusal(0, undefined);
      });
      if (!response.ok)
        throw refusal(response.status, await response.json().catch(() => undefined));
      const picture = await createImageBitmap(await response.blob());
      if (!reelState().playing) draw?.(picture);
    } catch (error) {
      if (made === wanted) notice("reel", error);
    }
  }
  pumping = false;
  holdTurns(reelState().playing);
}

export function toggleReelPlay() {
  if (reelState().playing) pauseReel();
  else void playReel();
}

/** What play shows as the reel is now, as the server is asked for it; null where nothing can play. */
export function reelPlayRequest(): ReelPlayRequest | null {
  const { reel, frame, plain, lines } = reelState();
  const count = lengthOf(reel?.items ?? []);
  if (!reel || count < 2 || !lines) return null;
  const height = smaller ? smallerHeight(lines) : lines;
  return { reel: reel.id, frame: startOf(frame, count), height, plain, first: 0, last: null };
}

const content = () =>
  `${reelState().kept?.id}.${reelState().kept?.revision}.${reelState().madeWith}`;

/** From its last frame a reel is played from the first. */
const startOf = (frame: number, count: number) => (frame === count - 1 ? 0 : frame);

async function playReel() {
  await reelKept();
  const { reel, played } = reelState();
  const whole = reelPlayRequest();
  if (!reel || !whole) return;
  useReel.setState({ playing: true, dropped: 0 });
  holdTurns(true);
  lastAt = -1;
  const rate = reel.rate.numerator / reel.rate.denominator;
  clock = { since: 0, start: whole.frame, first: 0, count: lengthOf(reel.items), rate };
  smaller = gaveWay === content() && !isAssured(played, clock);
  stream(reelPlayRequest() ?? whole, 0);
  ticking = requestAnimationFrame(tick);
}

/** Have frames come, the first of them due so many after play began. */
function stream(ask: ReelPlayRequest, from: number) {
  frames = new FrameStream(ask, from, {
    failed: (why) => {
      notice("reel", why);
      pauseReel();
    },
    ended: pauseReel,
  });
}

/** Go on with smaller pictures, once a play: too many frames were left out. The clock goes on. */
function giveWay(due: number) {
  gaveWay = content();
  smaller = true;
  const ask = reelPlayRequest();
  if (!ask) return;
  frames?.close();
  const from = due + LEAD;
  stream({ ...ask, frame: frameAt(clock, from) }, from);
}

export function pauseReel() {
  cancelAnimationFrame(ticking);
  frames?.close();
  frames = null;
  smaller = false;
  pauseSounds();
  if (!reelState().playing) return;
  useReel.setState({ playing: false });
  holdTurns(false);
  wantReelPicture();
}

function tick(now: number) {
  ticking = requestAnimationFrame(tick);
  if (!frames || (lastAt < 0 && !frames.isReady)) return;
  if (lastAt < 0) clock.since = now;
  const { due, exact } = dueAt(clock, now);
  keepSound(frameAt(clock, due), exact - due, now);
  const next = frames.newest(due);
  if (!next) return;
  const left = lastAt < 0 ? 0 : next.at - lastAt - 1;
  lastAt = next.at;
  draw?.(next.result);
  const frame = frameAt(clock, next.at);
  useReel.setState(({ dropped, played }) => ({
    frame,
    dropped: dropped + left,
    // what is kept of smaller pictures is not kept of those that are shown at rest
    played: smaller || played.has(frame) ? played : new Set(played).add(frame),
  }));
  if (!smaller && fallsBehind(next.at + 1, reelState().dropped)) giveWay(due);
}

/** Keep what is heard at a frame at its place; have what comes next on its way. */
function keepSound(frame: number, part: number, now: number) {
  const { reel } = reelState();
  if (!reel) return;
  const clips = queryClient.getQueryData<Clip[]>(["clips"]) ?? [];
  const rate = reel.rate.numerator / reel.rate.denominator;
  const all = placeItems(reel.items);
  const here = itemAt(all, frame);
  if (!here) return;
  const heard: Sounding[] = [];
  const own = shotSound(here.item, clips);
  if (own && here.item.kind === "shot") {
    const seconds = (clipFrame(here.item, frame - here.begins) + part) / own.clip.rate;
    heard.push({ address: own.address, seconds, gain: 1, slow: false });
  }
  for (const sound of soundsAt(reel.sounds, frame)) {
    const address = addressOf(sound, clips);
    const seconds = sound.start + (frame - sound.at + part) / rate;
    if (address) heard.push({ address, seconds, gain: gainOf(sound), slow: false });
  }
  keepSounds(heard, now);
  const next = all[all.indexOf(here) + 1] ?? all[0];
  const coming = soundsSoon(reel.sounds, frame, SOUND_AHEAD).map((each) => addressOf(each, clips));
  if (next && here.ends - frame < SOUND_AHEAD)
    coming.push(shotSound(next.item, clips)?.address ?? null);
  for (const address of coming) if (address) expectSound(address);
}

/** Have what is heard from the play head on be there when the reel is played. */
export function expectReelSounds() {
  const { reel, frame } = reelState();
  if (!reel) return;
  const clips = queryClient.getQueryData<Clip[]>(["clips"]) ?? [];
  const laid = soundsAt(reel.sounds, frame).map((each) => addressOf(each, clips));
  const own = placeItems(reel.items)
    .filter(({ ends }) => ends > frame)
    .map(({ item }) => shotSound(item, clips)?.address ?? null);
  const heard = [...new Set([...laid, ...own])].filter((address) => address !== null);
  for (const address of heard.slice(0, EXPECTED).reverse()) expectSound(address);
}

/** A shot's own sound: none in a gap, nor where its pictures go at another speed. */
function shotSound(item: ReelItem, clips: Clip[]) {
  if (item.kind === "gap" || item.speed !== 1 || !item.heard) return null;
  const clip = clips.find(({ id }) => id === item.clip);
  const address = clip && clipSound(clip);
  return clip && address ? { clip, address } : null;
}

/** The address of a sound that is laid under the shots; null while its media is missing. */
function addressOf({ file, clip }: ReelSound, clips: Clip[]): string | null {
  if (file) return fileSound(file);
  const found = clips.find(({ id }) => id === clip);
  // another element than a shot's own of the same clip, which may sound at another place
  const address = found && clipSound(found);
  return address ? `${address}#under` : null;
}
