import { create } from "zustand";
import {
  api,
  type Clip,
  type Reel,
  type ReelItem,
  type ReelSound,
  Refusal,
  sendTimeline,
  unwrap,
} from "../api/client";
import { listReels } from "../api/lists";
import { queryClient } from "../api/queries";
import { lengthOf } from "../model/reel";
import { arriving } from "./arrivals";
import { bench } from "./bench";
import { record } from "./historyState";
import { notice } from "./notices";
import { goToPlace } from "./places";

/** The reel that is open: its items, where the play head is, and which shots are chosen. */
interface ReelState {
  reel: Reel | null;
  /** As the server has it, which makes its pictures; a change is a moment ahead of it. */
  kept: Reel | null;
  frame: number;
  chosen: Set<string>;
  /** The sound that is worked on. */
  sound: string | null;
  /** Pictures are shown as shot, without looks. */
  plain: boolean;
  playing: boolean;
  /** Frames that were left out since play began. */
  dropped: number;
  /** Frames that play finds made. */
  played: Set<number>;
  /** Lines of the pictures that are shown; 0 while none are. */
  lines: number;
  /** The looks that pictures are made with, which may change. */
  madeWith: string;
  /** The shot that was opened on the Bench. */
  onBench: string | null;
  /** What was told of its timeline when it was read. */
  notes: string[];
  /** The edit list that came last, and the reel that it is: it can be read at another rate. */
  list: { file: File; reel: number; revision: number } | null;
  /** The one that was deleted last, to be brought back. */
  deleted: Reel | null;
}

export const useReel = create<ReelState>(() => ({
  reel: null,
  kept: null,
  frame: 0,
  chosen: new Set(),
  sound: null,
  plain: false,
  playing: false,
  dropped: 0,
  played: new Set(),
  lines: 0,
  madeWith: "",
  onBench: null,
  notes: [],
  list: null,
  deleted: null,
}));

export const reelState = useReel.getState;

export const newItemId = () => crypto.randomUUID().slice(0, 12);

/** The current revision of each reel that was seen. */
const revisions = new Map<number, number>();

/** Open a reel that is as the server has it. */
export function openReel(reel: Reel | null) {
  useReel.setState({ reel: null });
  fromServer(reel);
}

function fromServer(reel: Reel | null) {
  if (reel) revisions.set(reel.id, reel.revision);
  useReel.setState({ kept: reel });
  showReel(reel);
}

function showReel(reel: Reel | null) {
  const last = reel ? Math.max(lengthOf(reel.items) - 1, 0) : 0;
  const { reel: before, frame, chosen, sound } = reelState();
  const same = before?.id === reel?.id;
  const ids = new Set(reel?.items.map((item) => item.id));
  useReel.setState({
    reel,
    frame: same ? Math.min(frame, last) : 0,
    chosen: new Set(same ? [...chosen].filter((id) => ids.has(id)) : []),
    sound: same ? sound : null,
    notes: reel?.notes?.length ? reel.notes : same ? reelState().notes : [],
  });
  if (reel)
    queryClient.setQueryData<Reel[]>(["reels"], (all) => [
      reel,
      ...(all ?? []).filter((each) => each.id !== reel.id),
    ]);
}

/** Open the reel that was changed last, where none is open. */
export async function startReel() {
  if (reelState().reel) return;
  try {
    const [first] = await queryClient.fetchQuery({ queryKey: ["reels"], queryFn: listReels });
    if (first) fromServer(first);
  } catch (error) {
    notice("reel", error);
  }
}

export function seekReel(frame: number) {
  const { reel } = reelState();
  if (!reel) return;
  const last = Math.max(lengthOf(reel.items) - 1, 0);
  useReel.setState({ frame: Math.min(Math.max(Math.round(frame), 0), last) });
}

let saving: Promise<unknown> = Promise.resolve();

/** When all changes are kept. */
export const reelKept = () => saving;

/** Change the open reel; `words` say what was done, for Undo. It is seen at once, and kept in turn. */
export function editReel(words: string, change: (items: ReelItem[]) => ReelItem[], name?: string) {
  const { reel } = reelState();
  if (!reel) return;
  const items = change(reel.items);
  if (items === reel.items && name === undefined) return;
  become({ ...reel, items, frames: lengthOf(items), name: name ?? reel.name }, words);
}

/** Change what is heard under the open reel's shots. */
export function editSounds(words: string, change: (sounds: ReelSound[]) => ReelSound[]) {
  const { reel } = reelState();
  if (reel) become({ ...reel, sounds: change(reel.sounds) }, words);
}

function become(wanted: Reel, words: string) {
  if (bench().readOnly) return;
  showReel(wanted);
  saving = saving.then(() => keep(wanted, words));
}

/** Keep a reel as it is shown; from whichever revision the one before it became. */
async function keep(wanted: Reel, words: string) {
  const params = { path: { reel_id: wanted.id } };
  const before = revisions.get(wanted.id) ?? wanted.revision;
  try {
    const { name, rate, items, sounds } = wanted;
    const body = { name, rate, items, sounds, revision: before };
    const kept = await unwrap(api.PUT("/api/v1/reels/{reel_id}", { params, body }));
    revisions.set(kept.id, kept.revision);
    if (reelState().reel === wanted) fromServer(kept); // else what it is by now is kept next
    if (kept.revision !== before)
      record({
        kind: "reel",
        reel: kept.id,
        before,
        after: kept.revision,
        clip: bench().clip?.id ?? 0,
        revision: bench().revision,
        at: Date.now(),
        words,
      });
  } catch (error) {
    notice("reel", error);
    if (error instanceof Refusal && error.status === 409) await reloadReel(wanted.id);
  }
}

async function reloadReel(id: number) {
  try {
    const params = { path: { reel_id: id } };
    fromServer(await unwrap(api.GET("/api/v1/reels/{reel_id}", { params })));
  } catch (error) {
    notice("reel", error);
  }
}

/** Have a revision of a reel be current again, and show it. */
export async function walkReel(id: number, from: number, to: number) {
  await saving;
  const params = { path: { reel_id: id } };
  const body = { revision: from, to };
  const reel = await unwrap(api.POST("/api/v1/reels/{reel_id}/undo", { params, body }));
  if (reelState().reel?.id === id) fromServer(reel);
  else openReel(reel);
  goToPlace("reel");
}

export async function newReel(clip: Clip | null) {
  try {
    const rate = clip ? fractionOf(clip) : { numerator: 24, denominator: 1 };
    const taken = (await listReels()).length;
    const name = taken ? `Reel ${taken + 1}` : "First reel";
    const body = { name, rate, items: [], sounds: [] };
    openReel(await unwrap(api.POST("/api/v1/reels", { body })));
  } catch (error) {
    notice("reel", error);
  }
}

/** A clip's rate as a fraction: whole, or of those that are 1000/1001 of a whole one. */
function fractionOf({ rate }: Clip) {
  const whole = Math.round(rate);
  if (Math.abs(rate - whole) < 1e-3) return { numerator: whole, denominator: 1 };
  return { numerator: whole * 1000, denominator: 1001 };
}

/** Read a timeline as a new reel, and open it; an edit list has no rate of its own. */
export async function bringTimeline(file: File, rate: number | null = null) {
  const reel = await arriving(file.name, "Reading", (onProgress, signal) =>
    sendTimeline(file, rate, { onProgress, signal }),
  );
  if (!reel) return;
  openReel(reel);
  const isList = file.name.toLowerCase().endsWith(".edl");
  useReel.setState({ list: isList ? { file, reel: reel.id, revision: reel.revision } : null });
  await queryClient.invalidateQueries({ queryKey: ["clips"] });
  goToPlace("reel");
}

/** Read the edit list that came last at another rate: its reel takes the place of the one before. */
export async function readListAt(rate: number) {
  const { list } = reelState();
  if (!list) return;
  await bringTimeline(list.file, rate);
  if (reelState().list?.reel === list.reel) return; // it could not be
  try {
    const params = { path: { reel_id: list.reel } };
    await unwrap(api.DELETE("/api/v1/reels/{reel_id}", { params }));
    await queryClient.invalidateQueries({ queryKey: ["reels"] });
  } catch (error) {
    notice("reel", error);
  }
}

/** Look again for media that are missing, since clips have come. */
export async function findMedia() {
  const { reel } = reelState();
  if (!reel?.timeline || !Object.keys(reel.missing ?? {}).length) return;
  await saving;
  const params = { path: { reel_id: reel.id } };
  try {
    const found = await unwrap(api.POST("/api/v1/reels/{reel_id}/media", { params }));
    if (reelState().reel?.id === reel.id) fromServer(found);
  } catch (error) {
    if (reelState().reel?.id === reel.id) notice("reel", error); // else it was put away meanwhile
  }
}

export async function deleteReel(reel: Reel) {
  const params = { path: { reel_id: reel.id } };
  try {
    await saving;
    await unwrap(api.DELETE("/api/v1/reels/{reel_id}", { params }));
    const rest = await queryClient.fetchQuery({ queryKey: ["reels"], queryFn: listReels });
    useReel.setState({ deleted: reel });
    openReel(rest[0] ?? null);
  } catch (error) {
    notice("reel", error);
  }
}

/** Bring back the reel that was deleted last. */
export async function restoreReel() {
  const { deleted } = reelState();
  if (!deleted) return;
  const params = { path: { reel_id: deleted.id } };
  try {
    openReel(await unwrap(api.POST("/api/v1/reels/{reel_id}/restore", { params })));
    useReel.setState({ deleted: null });
  } catch (error) {
    notice("reel", error);
  }
}
