import type { KeyboardEvent, PointerEvent, RefObject } from "react";
import { useRef, useState } from "react";
import type { Points } from "../api/client";
import { addPoint, halvePoints, movePoint, removePoint } from "../model/points";

/** A drawing of points: so wide and so high within a margin, both axes from 0 to 1. */
export interface PointBox {
  width: number;
  height: number;
  margin: number;
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** How far an arrow key moves a point. */
const STEP = 0.01;
const WITH_SHIFT = 0.1;
const WITH_ALT = 0.001;

export interface PointHandlers {
  drawing: RefObject<SVGSVGElement | null>;
  chosen: number | null;
  choose: (at: number | null) => void;
  remove: (at: number) => void;
  across: (x: number) => number;
  up: (y: number) => number;
  /** Of the drawing: a point held is dragged. */
  dragging: {
    onPointerMove: (event: PointerEvent) => void;
    onPointerUp: (event: PointerEvent) => void;
    onPointerCancel: (event: PointerEvent) => void;
  };
  /** Of the ground: a click adds a point, which is held then. */
  add: (event: PointerEvent) => void;
  /** Of a point: it is held, moved by the arrow keys, Enter adds one after it; Delete or a double click takes it out. */
  point: (at: number) => {
    onPointerDown: (event: PointerEvent<SVGElement>) => void;
    onFocus: () => void;
    onDoubleClick: () => void;
    onKeyDown: (event: KeyboardEvent) => void;
  };
}

/** The pointer and key handling of points in a box; at least `fewest` points stay. */
export function usePointBox(
  box: PointBox,
  points: Points,
  fewest: number,
  onMove: (points: Points, done: boolean) => void,
): PointHandlers {
  const [chosen, choose] = useState<number | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const toX = (x: number) => box.margin + x * box.width;
  const toY = (y: number) => box.margin + (1 - y) * box.height;

  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const rect = drawing.current?.getBoundingClientRect();
    if (!rect) return [0, 0];
    const scale = (box.width + 2 * box.margin) / rect.width;
    return [
      ((event.clientX - rect.left) * scale - box.margin) / box.width,
      1 - ((event.clientY - rect.top) * scale - box.margin) / box.height,
    ];
  };
  const hold = (at: number, pointer: number) => {
    choose(at);
    setHeld(at);
    drawing.current?.setPointerCapture(pointer);
  };
  const release = (event: PointerEvent) => {
    if (held === null) return;
    onMove(movePoint(points, held, place(event)), true);
    setHeld(null);
  };
  const remove = (at: number) => {
    if (points.length <= fewest) return;
    choose(null);
    onMove(removePoint(points, at), true);
  };
  const press = (event: KeyboardEvent, at: number) => {
    const way = ARROWS[event.key];
    const point = points[at];
    if (event.key === "Delete" || event.key === "Backspace") remove(at);
    else if (event.key === "Enter") onMove(halvePoints(points, at), true);
    else if (way && point) {
      const by = event.shiftKey ? WITH_SHIFT : event.altKey ? WITH_ALT : STEP;
      onMove(movePoint(points, at, [point[0] + way[0] * by, point[1] + way[1] * by]), true);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return {
    drawing,
    chosen,
    choose,
    remove,
    across: toX,
    up: toY,
    dragging: {
      onPointerMove: (event) => {
        if (held !== null) onMove(movePoint(points, held, place(event)), false);
      },
      onPointerUp: release,
      onPointerCancel: release,
    },
    add: (event) => {
      const { points: next, at } = addPoint(points, place(event));
      onMove(next, false);
      hold(at, event.pointerId);
    },
    point: (at) => ({
      onPointerDown: (event) => {
        event.currentTarget.focus();
        hold(at, event.pointerId);
      },
      onFocus: () => choose(at),
      onDoubleClick: () => remove(at),
      onKeyDown: (event) => press(event, at),
    }),
  };
}
