import type { Burst, Step } from "../api/client";

/** A step's bursts, the frames on which it works: what a change of them makes of the step. */

export const burstsOf = (step: Step): Burst[] => step.bursts ?? [];

/** The burst of that number with other ends, kept within the clip and off its neighbours. */
export function withBurst(step: Step, at: number, change: Partial<Burst>, frames: number): Step {
  const bursts = burstsOf(step);
  const burst = bursts[at];
  if (!burst) return step;
  const low = (bursts[at - 1]?.to ?? -1) + 1;
  const high = (bursts[at + 1]?.from ?? frames) - 1;
  const clampFrame = (frame: number) => Math.min(Math.max(Math.round(frame), low), high);
  const next = { ...burst, ...change };
  const from = clampFrame(next.from);
  const made = {
    ...next,
    from: Math.min(from, clampFrame(next.to)),
    to: Math.max(from, clampFrame(next.to)),
    ramp: Math.max(0, Math.round(next.ramp ?? 0)),
  };
  return { ...step, bursts: bursts.with(at, made) };
}

/** The burst of that number moved by so many frames, as long as it is. */
export function movedBurst(step: Step, at: number, by: number, frames: number): Step {
  const bursts = burstsOf(step);
  const burst = bursts[at];
  if (!burst) return step;
  const low = (bursts[at - 1]?.to ?? -1) + 1 - burst.from;
  const high = (bursts[at + 1]?.from ?? frames) - 1 - burst.to;
  const held = Math.min(Math.max(by, low), high);
  return {
    ...step,
    bursts: bursts.with(at, { ...burst, from: burst.from + held, to: burst.to + held }),
  };
}

/** A burst put in; those it touches become one with it. */
export function addedBurst(step: Step, from: number, to: number): Step {
  const [first, last] = from < to ? [from, to] : [to, from];
  const touches = (b: Burst) => b.from <= last && b.to >= first;
  const touched = burstsOf(step).filter(touches);
  const made: Burst = {
    from: Math.min(first, ...touched.map((b) => b.from)),
    to: Math.max(last, ...touched.map((b) => b.to)),
    ramp: touched[0]?.ramp ?? 0,
  };
  const others = burstsOf(step).filter((b) => !touches(b));
  return { ...step, bursts: [...others, made].sort((a, b) => a.from - b.from) };
}

export const withoutBurst = (step: Step, at: number): Step => ({
  ...step,
  bursts: burstsOf(step).toSpliced(at, 1),
});
