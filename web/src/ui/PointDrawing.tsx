import { chakra } from "@chakra-ui/react";
import { type ReactNode, useId } from "react";
import type { Points } from "../api/client";
import type { PointBox, PointHandlers } from "./pointBox";

interface Props {
  label: string;
  box: PointBox;
  handlers: PointHandlers;
  points: Points;
  /** The line through them, in the same 0 to 1. */
  line: Points;
  /** The chosen point is seen as such. */
  marksChosen?: boolean;
  /** What a click that adds a point falls on: paper, or a ramp of greys. */
  ground: "paper" | "greys";
  nameOf: (at: number) => string;
  valueOf: (point: [number, number]) => string;
  /** What lies between the ground and the line; given the address of a ramp from black to white. */
  children?: (greys: string) => ReactNode;
}

const clamp = (v: number) => Math.min(Math.max(v, 0), 1);

/** Points in a box with a line through them: dragged, added by a click, moved by the arrow keys. */
export function PointDrawing(props: Props) {
  const { box, handlers, points, line } = props;
  const { drawing, chosen, across, up, dragging, add, point } = handlers;
  const greys = useId();
  const [width, height] = [box.width + 2 * box.margin, box.height + 2 * box.margin];
  return (
    <chakra.svg
      ref={drawing}
      role="group"
      aria-label={props.label}
      viewBox={`0 0 ${width} ${height}`}
      width={`${width}px`}
      height={`${height}px`}
      flex="none"
      style={{ touchAction: "none", userSelect: "none" }}
      onMouseDown={(event) => event.preventDefault()}
      {...dragging}
    >
      <defs>
        <linearGradient id={greys}>
          <stop offset="0" stopColor="#000" />
          <stop offset="1" stopColor="#fff" />
        </linearGradient>
      </defs>
      <chakra.rect
        x={box.margin}
        y={box.margin}
        width={box.width}
        height={box.height}
        fill={props.ground === "paper" ? "sheet" : `url(#${greys})`}
        stroke="line"
        cursor="copy"
        onPointerDown={add}
      />
      {props.children?.(`url(#${greys})`)}
      <chakra.polyline
        points={line.map(([x, y]) => `${across(x)},${up(clamp(y))}`).join(" ")}
        fill="none"
        stroke="ember"
        strokeWidth="2"
        pointerEvents="none"
      />
      {points.map(([x, y], i) => {
        const marked = props.marksChosen && i === chosen;
        return (
          <chakra.circle
            // biome-ignore lint/suspicious/noArrayIndexKey: a point is its place in the row
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={props.nameOf(i)}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={props.valueOf([x, y])}
            cx={across(x)}
            cy={up(y)}
            r={marked ? 6 : 5}
            fill={marked ? "ember" : "sheet"}
            stroke="ember"
            strokeWidth="2"
            cursor="grab"
            {...point(i)}
          />
        );
      })}
    </chakra.svg>
  );
}
