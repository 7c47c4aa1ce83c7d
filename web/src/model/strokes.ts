import type { Stroke } from "../api/client";

/** Strokes that say which part of a clip is lifted out. */

export type StrokeKind = Stroke["kind"];

/** Kinds of strokes, in words. */
export const STROKE_KINDS = [
  { value: "around", word: "Around it", hint: "A loose line around the figure" },
  { value: "this", word: "It", hint: "Strokes on the figure (hold Alt for the other kind)" },
  {
    value: "not this",
    word: "Not it",
    hint: "Strokes on what is not the figure (hold Alt for the other kind)",
  },
] as const;

/** The kind that is drawn while Alt is held. */
export const otherKind = (kind: StrokeKind): StrokeKind => (kind === "this" ? "not this" : "this");

/** Lines of the picture that widths of strokes are told in. */
export const LINES = 1080;

/** Whether strokes say what is to be lifted out, and not only what is not. */
export const sayWhat = (strokes: Stroke[]): boolean => strokes.some((s) => s.kind !== "not this");

/** The frames that have strokes, rising. */
export const strokedFrames = (strokes: Stroke[]): number[] =>
  [...new Set(strokes.map((s) => s.frame))].sort((a, b) => a - b);

/** Strokes without the last one of a frame. */
export function withoutLast(strokes: Stroke[], frame: number): Stroke[] {
  const at = strokes.findLastIndex((s) => s.frame === frame);
  return at < 0 ? strokes : strokes.toSpliced(at, 1);
}

/** Strokes with one more; a line around something takes the place of the one before on its frame. */
export function withStroke(strokes: Stroke[], drawn: Stroke): Stroke[] {
  if (drawn.kind !== "around") return [...strokes, drawn];
  return [...strokes.filter((s) => s.kind !== "around" || s.frame !== drawn.frame), drawn];
}

/** A stroke that can be used: it has a point in the frame, and goes around something if it should. */
export function isWhole({ kind, points }: Stroke): boolean {
  if (kind === "around") return points.length >= 3;
  return points.some(([x, y]) => x >= 0 && x <= 1 && y >= 0 && y <= 1);
}
