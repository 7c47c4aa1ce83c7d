import type { Entry, History } from "../api/client";
import { same } from "./same";

/** What is changed beside the looks, which keep revisions of their own: one history with them. */

export const EMPTY: History = { done: [], undone: [] };

const MOST = 50;
/** Changes of one thing that follow each other so closely are one: a drag, or typing. */
const TOGETHER_MS = 1500;

/** One change out of two of a kind, the second from where the first led. */
function goneOn(first: Entry, second: Entry): Entry {
  if (first.kind === "reading" && second.kind === "reading")
    return { ...second, before: first.before };
  if (first.kind === "played" && second.kind === "played")
    return { ...second, before: first.before };
  if (first.kind === "rendered" && second.kind === "rendered")
    return { ...second, before: first.before };
  return second;
}

/** The history with one more change; none where nothing changed. */
export function recordEntry(history: History, entry: Entry): History {
  const last = history.done.at(-1);
  const goesOn =
    last &&
    last.kind === entry.kind &&
    entry.kind !== "reel" &&
    last.clip === entry.clip &&
    last.revision === entry.revision &&
    entry.at - last.at < TOGETHER_MS;
  const begun = goesOn ? history.done.slice(0, -1) : history.done;
  const whole = goesOn ? goneOn(last, entry) : entry;
  if (same(whole.before, whole.after)) return { done: begun, undone: goesOn ? [] : history.undone };
  return { done: [...begun, whole].slice(-MOST), undone: [] };
}

/** The change that Undo takes back first, if it is newer than the look's own last one. */
export function lastDone({ done }: History, revision: number): Entry | undefined {
  const last = done.at(-1);
  return last?.revision === revision ? last : undefined;
}

/** The change that Redo makes again first, if the look has not changed since it was taken back. */
export function lastUndone({ undone }: History, revision: number): Entry | undefined {
  const last = undone.at(-1);
  return last?.revision === revision ? last : undefined;
}

/** The history without what can't be taken back, or made again. */
export const dropLast = ({ done, undone }: History, way: "undo" | "redo"): History =>
  way === "undo" ? { done: done.slice(0, -1), undone } : { done, undone: undone.slice(0, -1) };

export const undoneOne = ({ done, undone }: History): History => ({
  done: done.slice(0, -1),
  undone: [...undone, ...done.slice(-1)],
});

export const redoneOne = ({ done, undone }: History): History => ({
  done: [...done, ...undone.slice(-1)],
  undone: undone.slice(0, -1),
});
