/** Which frame is due when, in a range that is played round and round, and where the sound is then. */
export interface PlayClock {
  /** When the first frame was shown, in milliseconds. */
  since: number;
  /** The frame that was shown first. */
  start: number;
  /** The first frame of the range, and how many it has. */
  first: number;
  count: number;
  /** Frames shown in a second. */
  rate: number;
}

/** A frame is shown this part of its time early rather than a whole tick late. */
const EARLY = 0.02;

/** How many frames after the first one is due at a time, and the same with its fraction. */
export function dueAt(clock: PlayClock, now: number): { due: number; exact: number } {
  const exact = ((now - clock.since) * clock.rate) / 1000;
  return { due: Math.floor(exact + EARLY), exact };
}

/** The frame of the clip that is due so many frames after the first. */
export function frameAt(clock: PlayClock, at: number): number {
  const offset = (clock.start - clock.first + at) % clock.count;
  return clock.first + ((offset + clock.count) % clock.count);
}

/** Where the clip's sound belongs at a time, in seconds of a clip of so many frames a second. */
export function soundAt(clock: PlayClock, now: number, clipRate: number): number {
  const { due, exact } = dueAt(clock, now);
  return (frameAt(clock, due) + exact - due) / clipRate;
}

/**
 * Of frames in the order of their time: the newest that is due, what comes after it, and how many
 * are done with. A frame that is ready only after a later one was shown is left out.
 */
export function newestDue<T extends { at: number }>(
  waiting: T[],
  due: number,
  shown: number,
): { next: T | undefined; rest: T[]; done: number } {
  const done = waiting.findLastIndex((came) => came.at <= due) + 1;
  const newest = waiting[done - 1];
  return {
    next: newest && newest.at > shown ? newest : undefined,
    rest: waiting.slice(done),
    done,
  };
}

/** Frames after which it shows whether play keeps its rate, and the share left out that is too much. */
const TRIED = 30;
const TOO_MUCH = 0.25;

/** How much lower a picture is that gives way, so that play keeps its rate. */
const SMALLER = 0.6;

/** Whether so much was left out, of frames that were due, that pictures should be smaller. */
export const fallsBehind = (due: number, leftOut: number): boolean =>
  due >= TRIED && leftOut > TOO_MUCH * due;

/** Frames that play, once it gave way, is to find made before its pictures are whole again. */
const ASSURED = 240;

/** Whether so many frames from one on are made that play can begin with whole pictures. */
export function isAssured(made: Set<number>, clock: PlayClock): boolean {
  const wanted = Math.min(ASSURED, clock.count);
  return Array.from({ length: wanted }, (_, n) => frameAt(clock, n)).every((n) => made.has(n));
}

/** The height, even, of pictures that give way. */
export const smallerHeight = (height: number): number => 2 * Math.round((SMALLER * height) / 2);

/** Seconds the sound may be off the picture before it is moved, and milliseconds between two moves. */
const TOLERANCE = 0.04;
const BETWEEN_MOVES = 500;

export interface SoundState {
  currentTime: number;
  duration: number;
  paused: boolean;
  /** It has come, and is not on its way to another place. */
  ready: boolean;
}

/** What the sound needs to be at its place: nothing, a pause, a move, or to be set going. */
export function soundAction(
  sound: SoundState,
  seconds: number,
  sinceLastMove: number,
): "none" | "pause" | "start" | "move" {
  if (seconds >= sound.duration - TOLERANCE) return sound.paused ? "none" : "pause";
  if (!sound.ready || sinceLastMove < BETWEEN_MOVES) return "none";
  if (Math.abs(sound.currentTime - seconds) > TOLERANCE) return "move";
  return sound.paused ? "start" : "none";
}
