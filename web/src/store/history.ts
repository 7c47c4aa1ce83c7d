import { api, type Clip, type Entry, type Reading, Refusal, unwrap } from "../api/client";
import { listClips } from "../api/lists";
import { queryClient } from "../api/queries";
import { dropLast, lastDone, lastUndone, redoneOne, undoneOne } from "../model/history";
import { bench, setState, useBench } from "./bench";
import { chooseClip } from "./clips";
import { inTurn, isLast, reload, restoreDeleted } from "./edits";
import { record, useHistory, withoutRecording } from "./historyState";
import { applyLookState } from "./look";
import { returnToClip } from "./memory";
import { notice } from "./notices";
import { reelKept, walkReel } from "./reel";
import { setRange, useRenderOptions } from "./renders";

/** One history over looks, how clips are read, their ranges, and reels. */

/** What a change is of, when it was made, and what it is called. */
const historyEntry = (clip: Clip, words: string) => ({
  clip: clip.id,
  words,
  revision: bench().revision,
  at: Date.now(),
});

/** From now on, notice what is changed. */
export function watchHistory() {
  useBench.subscribe((now, before) => {
    const { clip } = now;
    if (!clip || clip.id !== before.clip?.id) return;
    if (JSON.stringify(clip.reading) !== JSON.stringify(before.clip.reading)) {
      const change = { before: before.clip.reading, after: clip.reading };
      record({ kind: "reading", ...change, ...historyEntry(clip, `how ${clip.name} is read`) });
    } else if (now.range !== before.range)
      record({
        kind: "played",
        before: before.range,
        after: now.range,
        ...historyEntry(clip, `what of ${clip.name} is played`),
      });
  });
  useRenderOptions.subscribe((now, before) => {
    const clips = queryClient.getQueryData<Clip[]>(["clips"]) ?? [];
    for (const clip of clips) {
      const [after, was] = [now.ranges[clip.id], before.ranges[clip.id]];
      if (after && after !== was)
        record({
          kind: "rendered",
          before: was ?? [null, null],
          after,
          ...historyEntry(clip, `what of ${clip.name} is rendered`),
        });
    }
  });
}

/** Put a reading in force, and have the clip on the bench read so. */
export async function readAs(clip: Clip, reading: Reading) {
  const params = { path: { clip_id: clip.id } };
  const read = await unwrap(api.PUT("/api/v1/clips/{clip_id}/reading", { params, body: reading }));
  queryClient.setQueryData<Clip[]>(["clips"], (clips) =>
    clips?.map((c) => (c.id === read.id ? read : c)),
  );
  if (bench().clip?.id !== read.id) return;
  chooseClip(read, {
    frame: Math.round((bench().frame * read.frames) / Math.max(clip.frames, 1)),
    played: read.frames === clip.frames ? bench().range : null,
  });
}

async function apply(entry: Entry, to: "before" | "after") {
  if (entry.kind === "reel") {
    const other = to === "before" ? "after" : "before";
    return walkReel(entry.reel, entry[other], entry[to]);
  }
  const clips = await listClips();
  const clip = clips.find((c) => c.id === entry.clip);
  if (!clip) throw new Error(`the clip of ${entry.words} is gone`);
  await withoutRecording(async () => {
    if (entry.kind === "rendered") return setRange(clip, entry[to]);
    if (bench().clip?.id !== clip.id) await returnToClip(clip);
    if (entry.kind === "reading") await readAs(clip, entry[to]);
    else setState({ range: entry[to] });
  });
}

/** Take back, or make again, what was done last, if that was no change of the look; says if so. */
async function stepOther(way: "undo" | "redo"): Promise<boolean> {
  const history = useHistory.getState();
  const { revision } = bench();
  const entry = way === "undo" ? lastDone(history, revision) : lastUndone(history, revision);
  if (!entry) return false;
  try {
    await apply(entry, way === "undo" ? "before" : "after");
    say(way, { words: entry.words, step: null });
    useHistory.setState(way === "undo" ? undoneOne(history) : redoneOne(history));
  } catch (error) {
    notice("clips", error);
    const noAnswer = error instanceof Refusal && error.status === 0;
    if (!noAnswer) useHistory.setState(dropLast(history, way)); // or Undo would never get past it
  }
  return true;
}

/** Milliseconds for which the page says what Undo or Redo did. */
const SAID_MS = 4000;

/** Say for a while what was taken back or made again, and at which step. */
function say(way: "undo" | "redo", { words, step }: { words: string; step: string | null }) {
  const walked = { words: `${way === "undo" ? "Taken back" : "Made again"}: ${words}`, step };
  setState({ walked });
  setTimeout(() => bench().walked === walked && setState({ walked: null }), SAID_MS);
}

/** Undo or redo what was done last: a look deleted, a reading, a range, or a change of the look. */
export async function stepHistory(way: "undo" | "redo") {
  await inTurn(async () => {}); // edits on their way are changes of the look
  await reelKept(); // and of the reel
  const deletion = way === "undo" && isLast(bench().deleted);
  if (!deletion && (await stepOther(way))) return;
  await inTurn(async () => {
    const { lookId } = bench();
    if (lookId === null) return;
    if (deletion) return restoreDeleted();
    const change = bench()[way === "undo" ? "undoes" : "redoes"];
    const params = { path: { look_id: lookId }, query: { revision: bench().revision } };
    const path = way === "undo" ? "/api/v1/looks/{look_id}/undo" : "/api/v1/looks/{look_id}/redo";
    try {
      applyLookState(await unwrap(api.POST(path, { params })));
      if (change) say(way, change);
    } catch (error) {
      const stands = error instanceof Refusal && error.status === 409;
      if (stands && !change) return; // there is nothing to walk to
      notice("look", error);
      if (stands) await reload(lookId).catch((lost) => notice("look", lost));
    }
  });
}
