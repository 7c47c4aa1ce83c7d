import { chakra } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Point, Size } from "./shapes";

const Group = chakra("g");

interface GripProps {
  /** The setting it moves. */
  name: string;
  label: string;
  x: number;
  y: number;
  /** What a hundredth of is one press of an arrow key. */
  unit: Size;
  /** The value when the drag began is handed back with each move. */
  value: Point;
  /** It is drawn where it is while something else moves. */
  stays?: boolean;
  onMove: (dx: number, dy: number, done: boolean, from: Point) => void;
}

/** What can be taken hold of: dragged, or moved by arrow keys (Shift ×10, Alt ÷10). */
export function Grip({ name, label, x, y, unit, value, stays, onMove }: GripProps) {
  const held = useRef<{ x: number; y: number; from: Point } | null>(null);
  const moved = (event: PointerEvent, done: boolean) => {
    const start = held.current;
    if (start) onMove(event.clientX - start.x, event.clientY - start.y, done, start.from);
  };
  const press = (event: KeyboardEvent) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
      event.key
    ];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const by = (event.shiftKey ? 10 : event.altKey ? 0.1 : 1) / 100;
    onMove((way[0] ?? 0) * by * unit.width, (way[1] ?? 0) * by * unit.height, true, value);
  };
  return (
    <Group
      role="button"
      tabIndex={0}
      aria-label={label}
      data-keyed={name}
      transform={`translate(${x} ${y})`}
      pointerEvents="all"
      cursor={stays ? "move" : "grab"}
      style={{ touchAction: "none" }}
      css={{ "&:focus-visible": { outline: "none" }, "&:focus-visible .ring": { opacity: 1 } }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = { x: event.clientX, y: event.clientY, from: value };
      }}
      onPointerMove={(event) => moved(event, false)}
      onPointerUp={(event) => {
        moved(event, true);
        held.current = null;
      }}
      onKeyDown={press}
    >
      <circle r="14" fill="transparent" />
      <circle className="ring" r="11" fill="none" stroke="#ffffff" strokeWidth="2" opacity="0" />
      <circle r="6.5" fill="#262524" stroke="#ffffff" strokeWidth="2" />
    </Group>
  );
}
