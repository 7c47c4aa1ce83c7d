import type { Clip, LookState, ReelItem } from "../api/client";
import { queryClient } from "../api/queries";
import {
  clipFrame,
  cutAt,
  insertItem,
  itemAt,
  moveItems,
  placeItems,
  removeItems,
  shotOf,
  trimItem,
  withLook,
} from "../model/reel";
import { countWords } from "../model/words";
import { setState } from "./bench";
import { openLook } from "./looks";
import { returnToClip } from "./memory";
import { notice } from "./notices";
import { goToPlace } from "./places";
import { editReel, newItemId, newReel, reelState, useReel } from "./reel";

/** What an editor does with shots. */

const here = () => {
  const { reel, frame } = reelState();
  return reel ? itemAt(placeItems(reel.items), frame) : undefined;
};

/** The shots that are chosen; else the one at the play head. */
export function chosenShots(): Set<string> {
  const { chosen } = reelState();
  if (chosen.size) return chosen;
  const item = here()?.item;
  return new Set(item ? [item.id] : []);
}

const wordsFor = (ids: Set<string>) => {
  const [only] = ids;
  const item = reelState().reel?.items.find(({ id }) => id === only);
  if (ids.size !== 1 || !item) return countWords(ids.size, "shot");
  return item.kind === "gap" ? "a gap" : item.name;
};

/** Cut the shot at the play head in two. */
export function cutHere() {
  const { frame } = reelState();
  const at = here();
  if (!at) return;
  if (at.begins === frame)
    return notice("reel", "A shot begins here already; go on a frame to cut.");
  editReel(`cutting ${wordsFor(new Set([at.item.id]))}`, (items) =>
    cutAt(items, frame, newItemId()),
  );
}

/** Remove the chosen shots, or the one at the play head. */
export function takeOut() {
  const ids = chosenShots();
  if (!ids.size) return;
  editReel(`removing ${wordsFor(ids)}`, (items) => removeItems(items, ids));
}

/** Put a clip in, whole: at a place, else after the chosen shots, or the one at the play head. */
export async function putIn(clip: Clip, at?: number) {
  if (!reelState().reel) await newReel(clip);
  const ids = chosenShots();
  const shot = shotOf(clip, newItemId(), null);
  editReel(`putting in ${clip.name}`, (items) => {
    const after = items.findLastIndex(({ id }) => ids.has(id)) + 1;
    return insertItem(items, shot, at ?? after);
  });
  useReel.setState({ chosen: new Set([shot.id]) });
}

/** Give shots a look: those that are chosen, or one that is said. */
export function giveLook(look: Pick<LookState, "id" | "name"> | null, ids = chosenShots()) {
  const words = look ? `${look.name} on ${wordsFor(ids)}` : `no look on ${wordsFor(ids)}`;
  editReel(words, (items) => withLook(items, ids, look?.id ?? null));
}

export function nameShot(id: string, name: string) {
  editReel(`the name ${name}`, (items) =>
    items.map((item) => (item.id === id && item.kind === "shot" ? { ...item, name } : item)),
  );
}

/** Put the chosen shots at another place, or so many places on. */
export function putAt(to: number, ids = chosenShots()) {
  editReel(`moving ${wordsFor(ids)}`, (items) => moveItems(items, ids, to));
}

export function putOn(by: 1 | -1) {
  const ids = chosenShots();
  const items = reelState().reel?.items ?? [];
  const places = items.flatMap(({ id }, n) => (ids.has(id) ? [n] : []));
  const [first] = places;
  const last = places.at(-1);
  if (first === undefined || last === undefined) return;
  const to = by > 0 ? last + 2 : first - 1;
  if (to >= 0 && to <= items.length) putAt(to, ids);
}

const clipFrames = (id: number) =>
  queryClient.getQueryData<Clip[]>(["clips"])?.find((clip) => clip.id === id)?.frames ?? 1;

/** The items with one that begins or ends so many frames later. */
export const trimmedBy = (items: ReelItem[], id: string, edge: "first" | "last", by: number) =>
  trimItem(items, id, edge, by, clipFrames);

export function trim(id: string, edge: "first" | "last", by: number) {
  const words = edge === "first" ? "begins" : "ends";
  editReel(`where ${wordsFor(new Set([id]))} ${words}`, (items) => trimmedBy(items, id, edge, by));
}

/** Keep what the clip alone has of the look as the shot's own, whatever the clip has later. */
export function keepFitting(looks: LookState[]) {
  const ids = chosenShots();
  editReel(`the fitting of ${wordsFor(ids)}`, (items) =>
    items.map((item) => {
      if (item.kind === "gap" || !ids.has(item.id) || item.clip === null) return item;
      const look = looks.find(({ id }) => id === item.look);
      const fitting = look?.fittings[item.clip] ?? null;
      return { ...item, fitting };
    }),
  );
}

/** Hide the shots of the reel on the Bench. */
export const leaveShot = () => useReel.setState({ onBench: null });

/** Open a shot on the Bench with its look: the one at the play head at its frame, or another. */
export async function showOnBench(id?: string) {
  const { reel, frame } = reelState();
  const other = placeItems(reel?.items ?? []).find(({ item }) => item.id === id);
  const at = other ?? here();
  const clips = queryClient.getQueryData<Clip[]>(["clips"]) ?? [];
  if (at?.item.kind !== "shot") return;
  const { item, begins } = at;
  const clip = clips.find(({ id }) => id === item.clip);
  if (!clip) return notice("reel", `${item.name}: its media is missing; drop it on the page.`);
  await returnToClip(clip);
  if (item.look != null) await openLook(item.look);
  const shown = clipFrame(item, other ? 0 : frame - begins);
  setState({ frame: Math.min(shown, clip.frames - 1) });
  useReel.setState({ onBench: item.id });
  goToPlace("bench");
}
