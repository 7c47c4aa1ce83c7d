import type { DragEvent } from "react";

/** What is dragged within the Reel, by the kinds of data it is dragged as. */
export const CLIP = "application/x-yearning-clip";
export const LOOK = "application/x-yearning-look";
export const SHOT = "application/x-yearning-shot";

export function beginDrag(event: DragEvent, kind: string, id: number | string) {
  event.dataTransfer.setData(kind, `${id}`);
  event.dataTransfer.effectAllowed = "copyMove";
}

/** The id of what is dropped, if it is of a kind; "" if not. */
export const draggedId = (event: DragEvent, kind: string) => event.dataTransfer.getData(kind);
