import { type PointerEvent, useRef } from "react";

/** How far something was dragged, whether it is let go, and its value as the drag began. */
export type OnDrag<V> = (dx: number, dy: number, done: boolean, from: V, alt?: boolean) => void;

/** Pointer handlers of what is dragged on the picture. */
export function useDrag<V>(value: V, onMove: OnDrag<V>) {
  const held = useRef<{ x: number; y: number; from: V } | null>(null);
  const reportMove = (event: PointerEvent, done: boolean) => {
    const start = held.current;
    if (start)
      onMove(event.clientX - start.x, event.clientY - start.y, done, start.from, event.altKey);
  };
  return {
    onPointerDown: (event: PointerEvent) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      held.current = { x: event.clientX, y: event.clientY, from: value };
    },
    onPointerMove: (event: PointerEvent) => reportMove(event, false),
    onPointerUp: (event: PointerEvent) => {
      reportMove(event, true);
      held.current = null;
    },
  };
}
