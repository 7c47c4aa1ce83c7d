import type { Ease, Keyframe, SettingValue, Step } from "../api/client";
import { fieldOf, withField } from "./masks";

/** A step's keys: what a change of them makes of the step. Keys stay ordered by frame. */

type Value = SettingValue | null;

const OF_MIX = "mix.";

export const keysOf = (step: Step, name: string): Keyframe[] => step.keys?.[name] ?? [];

/** The settings that keys pin. */
export const keyedNames = (step: Step): string[] =>
  Object.keys(step.keys ?? {}).filter((name) => keysOf(step, name).length > 0);

/** The frames that have a key: of one setting, or of any. */
export function keyFrames(step: Step, name: string | null): number[] {
  const names = name === null ? keyedNames(step) : [name];
  const frames = names.flatMap((n) => keysOf(step, n).map((k) => k.frame));
  return [...new Set(frames)].sort((a, b) => a - b);
}

/** A setting of the step, or a field of its mix, by the name keys have it under. */
export function plainOf(step: Step, name: string): Value {
  const shape = fieldOf(step, name);
  if (shape !== undefined) return shape;
  if (!name.startsWith(OF_MIX)) return step.settings[name] ?? null;
  return (name === "mix.amount" ? step.mix.amount : step.mix.tones) ?? null;
}

/** The step with another value there, and its keys as they are. */
export function withPlain(step: Step, name: string, value: Value): Step {
  if (name.startsWith(OF_MIX) && fieldOf(step, name) === undefined)
    return { ...step, mix: { ...step.mix, [name.slice(OF_MIX.length)]: value } };
  if (value === null) return step; // no setting is none
  if (name.startsWith(OF_MIX)) return withField(step, name, value);
  return { ...step, settings: { ...step.settings, [name]: value } };
}

const withKeys = (step: Step, name: string, keys: Keyframe[]): Step => ({
  ...step,
  keys: { ...step.keys, [name]: keys.toSorted((a, b) => a.frame - b.frame) },
});

/** A key that leads on as the one at its frame did, or as the one before it. */
function pinKey(keys: Keyframe[], frame: number, value: Value): Keyframe[] {
  const before = keys.findLast((k) => k.frame <= frame);
  const key = { frame, value, ease: before?.ease ?? "straight" };
  return [...keys.filter((k) => k.frame !== frame), key];
}

/** The step with a value: at the frame alone where it is keyed. */
export function withValue(step: Step, name: string, value: Value, frame: number): Step {
  const keys = keysOf(step, name);
  return keys.length
    ? withKeys(step, name, pinKey(keys, frame, value))
    : withPlain(step, name, value);
}

/** Pin settings at a frame as `shown` has them there; those pinned there already are let go. */
export function toggledKeys(step: Step, shown: Step, names: string[], frame: number): Step {
  const here = names.every((name) => keysOf(step, name).some((k) => k.frame === frame));
  return here ? withoutKeys(step, names, frame) : pinnedAt(step, shown, names, frame);
}

export const pinnedAt = (step: Step, shown: Step, names: string[], frame: number): Step =>
  names.reduce(
    (s, name) => withKeys(s, name, pinKey(keysOf(s, name), frame, plainOf(shown, name))),
    step,
  );

/** A setting's last key gone, it stays as that had it. */
export const withoutKeys = (step: Step, names: string[], frame: number): Step =>
  names.reduce((s, name) => {
    const gone = keysOf(s, name).find((k) => k.frame === frame);
    const kept = keysOf(s, name).filter((k) => k.frame !== frame);
    const rest = withKeys(s, name, kept);
    return gone && kept.length === 0 ? withPlain(rest, name, gone.value) : rest;
  }, step);

/** The settings that have a key at a frame, of those named or of all. */
export const namesAt = (step: Step, frame: number, name: string | null): string[] =>
  (name === null ? keyedNames(step) : [name]).filter((n) =>
    keysOf(step, n).some((k) => k.frame === frame),
  );

/** Keys of a frame moved, or with `copy` copied, to another; none lands on another key. */
export function movedKeys(
  step: Step,
  name: string | null,
  from: number,
  to: number,
  copy = false,
): Step {
  const names = namesAt(step, from, name);
  if (to === from || names.some((n) => keysOf(step, n).some((k) => k.frame === to))) return step;
  return names.reduce((s, n) => {
    const keys = keysOf(s, n);
    const moved = keys.filter((k) => k.frame === from).map((k) => ({ ...k, frame: to }));
    return withKeys(s, n, [...keys.filter((k) => copy || k.frame !== from), ...moved]);
  }, step);
}

export const withEase = (step: Step, name: string | null, frame: number, ease: Ease): Step =>
  namesAt(step, frame, name).reduce(
    (s, n) =>
      withKeys(
        s,
        n,
        keysOf(s, n).map((k) => (k.frame === frame ? { ...k, ease } : k)),
      ),
    step,
  );
