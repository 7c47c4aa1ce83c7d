import type { Clip, Reel, ReelItem, ReelShot } from "../api/client";

/** A reel's items in their order, and what an editor does with them; frames are counted from 0. */

export interface PlacedItem {
  item: ReelItem;
  /** The frame of the reel that it begins at, and the one after its last. */
  begins: number;
  ends: number;
}

/** What pictures of a reel are made of. */
export interface Pictured {
  kept: Reel;
  plain: boolean;
  /** The revisions of the project's looks. */
  looks: string;
}

/** The address of a frame of the reel; another one when what it shows has changed. */
export function reelPicture({ kept, plain, looks }: Pictured, frame: number, height: number) {
  const of = `${kept.revision}.${looks}`;
  const query = new URLSearchParams({ height: `${height}`, plain: `${plain}`, of });
  return `/api/v1/reels/${kept.id}/pictures/${frame}?${query}`;
}

/** How many of the reel's frames an item is seen in. */
export const framesOf = (item: ReelItem): number =>
  item.kind === "gap"
    ? item.frames
    : Math.max(1, Math.round((item.last - item.first + 1) / item.speed));

export function placeItems(items: ReelItem[]): PlacedItem[] {
  let begins = 0;
  return items.map((item) => {
    const at = begins;
    begins += framesOf(item);
    return { item, begins: at, ends: begins };
  });
}

export const lengthOf = (items: ReelItem[]): number =>
  items.reduce((sum, item) => sum + framesOf(item), 0);

/** The item at a frame; the last beyond the end. */
export const itemAt = (all: PlacedItem[], frame: number): PlacedItem | undefined =>
  all.find(({ begins, ends }) => begins <= frame && frame < ends) ?? all.at(-1);

/** The frame of its clip that a shot shows, so many frames after it began. */
export const clipFrame = (shot: ReelShot, after: number): number =>
  Math.min(shot.last, shot.first + Math.round(after * shot.speed));

/** The first frame of the next shot, or of this or the one before, seen from a frame. */
export function cutFrom(all: PlacedItem[], frame: number, way: 1 | -1): number {
  const cuts = [...all.map(({ begins }) => begins), (all.at(-1)?.ends ?? 1) - 1];
  const found = way > 0 ? cuts.find((cut) => cut > frame) : cuts.findLast((cut) => cut < frame);
  return found ?? frame;
}

/** Cut the item at a frame in two; the items as they are where a cut is already. */
export function cutAt(items: ReelItem[], frame: number, id: string): ReelItem[] {
  const here = placeItems(items).find(({ begins, ends }) => begins < frame && frame < ends);
  if (!here) return items;
  const { item, begins } = here;
  const before = frame - begins;
  const parts: ReelItem[] =
    item.kind === "gap"
      ? [
          { ...item, frames: before },
          { ...item, id, frames: item.frames - before, item: null },
        ]
      : [
          { ...item, last: item.first + Math.round(before * item.speed) - 1 },
          { ...item, id, first: item.first + Math.round(before * item.speed), item: null },
        ];
  return items.flatMap((each) => (each === item ? parts : [each]));
}

/** Cut a shot in parts that begin at frames of its clip, in their order. */
export const cutAtFrames = (
  items: ReelItem[],
  id: string,
  frames: number[],
  newId: () => string,
): ReelItem[] =>
  items.flatMap((item) => {
    if (item.id !== id || item.kind === "gap") return [item];
    const begins = [item.first, ...frames.filter((f) => item.first < f && f <= item.last)];
    return begins.map((first, n) => ({
      ...item,
      first,
      last: (begins[n + 1] ?? item.last + 1) - 1,
      ...(n && { id: newId(), item: null }),
    }));
  });

/** Have an item begin or end so many of the reel's frames later, as far as its clip goes. */
export function trimItem(
  items: ReelItem[],
  id: string,
  edge: "first" | "last",
  by: number,
  clipFrames: (clip: number) => number,
): ReelItem[] {
  return items.map((item) => {
    if (item.id !== id) return item;
    if (item.kind === "gap")
      return { ...item, frames: Math.max(1, item.frames + (edge === "last" ? by : -by)) };
    const moved = Math.round(by * item.speed);
    if (edge === "first")
      return { ...item, first: Math.min(Math.max(item.first + moved, 0), item.last) };
    const end = item.clip === null ? item.last : clipFrames(item.clip) - 1;
    return { ...item, last: Math.max(Math.min(item.last + moved, end), item.first) };
  });
}

/** Put items at another place among the others, in the order they have. */
export function moveItems(items: ReelItem[], ids: Set<string>, to: number): ReelItem[] {
  const before = items.slice(0, to).filter((item) => !ids.has(item.id));
  const after = items.slice(to).filter((item) => !ids.has(item.id));
  return [...before, ...items.filter((item) => ids.has(item.id)), ...after];
}

export const insertItem = (items: ReelItem[], item: ReelItem, at: number): ReelItem[] => [
  ...items.slice(0, at),
  item,
  ...items.slice(at),
];

export const removeItems = (items: ReelItem[], ids: Set<string>): ReelItem[] =>
  items.filter((item) => !ids.has(item.id));

/** Give shots a look, which they have by their clips' own fittings; none takes it away. */
export const withLook = (items: ReelItem[], ids: Set<string>, look: number | null): ReelItem[] =>
  items.map((item) =>
    item.kind === "shot" && ids.has(item.id) ? { ...item, look, fitting: null } : item,
  );

/** A whole clip as a shot. */
export const shotOf = (clip: Clip, id: string, look: number | null): ReelShot => ({
  kind: "shot",
  id,
  name: clip.name,
  clip: clip.id,
  first: 0,
  last: clip.frames - 1,
  speed: 1,
  look,
  fitting: null,
  heard: true,
  item: null,
});

/** The shots before and after the one at a frame, which are seen beside it. */
export function besides(all: PlacedItem[], frame: number) {
  const n = all.findIndex(({ begins, ends }) => begins <= frame && frame < ends);
  return { before: n > 0 ? all[n - 1] : undefined, after: n < 0 ? undefined : all[n + 1] };
}
