import { chakra } from "@chakra-ui/react";
import type { KeyboardEvent } from "react";
import type { PathPoint } from "../../../api/client";
import type { Size } from "./shapes";
import { type OnDrag, useDrag } from "./useDrag";

const Group = chakra("g");

/** A value that is moved: a number, a place, one with a size, two places, or a path. */
type Moved =
  | number
  | [number, number]
  | [number, number, number]
  | [number, number, number, number]
  | PathPoint[];

interface GripProps<V extends Moved> {
  /** What its keys are called; nothing where it has none here. */
  name: string;
  label: string;
  x: number;
  y: number;
  /** What a hundredth of is one press of an arrow key. */
  unit: Size;
  /** The value when the drag began is handed back with each move. */
  value: V;
  /** It is drawn where it is while something else moves. */
  stays?: boolean;
  /** Smaller: one of many. */
  small?: boolean;
  onDelete?: () => void;
  onDoubleClick?: () => void;
  /** It was taken hold of, or has the focus. */
  onHold?: () => void;
  onMove: OnDrag<V>;
}

/** What can be taken hold of: dragged, or moved by arrow keys (Shift ×10, Alt ÷10). */
export function Grip<V extends Moved>({
  name,
  label,
  x,
  y,
  unit,
  value,
  stays,
  small,
  onDelete,
  onDoubleClick,
  onHold,
  onMove,
}: GripProps<V>) {
  const drag = useDrag(value, onMove);
  const press = (event: KeyboardEvent) => {
    if (onDelete && (event.key === "Delete" || event.key === "Backspace")) {
      event.preventDefault();
      event.stopPropagation();
      onDelete();
      return;
    }
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
      data-keyed={name || undefined}
      transform={`translate(${x} ${y})`}
      pointerEvents="all"
      cursor={stays ? "move" : "grab"}
      style={{ touchAction: "none" }}
      css={{ "&:focus-visible": { outline: "none" }, "&:focus-visible .ring": { opacity: 1 } }}
      {...drag}
      onKeyDown={press}
      onDoubleClick={onDoubleClick}
      onFocus={onHold}
    >
      <circle r={small ? 11 : 14} fill="transparent" />
      <circle className="ring" r="11" fill="none" stroke="#ffffff" strokeWidth="2" opacity="0" />
      <circle r={small ? 4.5 : 6.5} fill="#262524" stroke="#ffffff" strokeWidth="2" />
    </Group>
  );
}
