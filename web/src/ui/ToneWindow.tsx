import { Box, chakra, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Points } from "../api/client";
import { Key } from "./Button";

const WIDE = 196;
const TALL = 44;
const PAD = 6;
const GAP = 0.01;
const FLAT: Points = [
  [0, 1],
  [1, 1],
];
const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

const clamp = (v: number) => Math.min(Math.max(v, 0), 1);
const rounded = (v: number) => Math.round(v * 1000) / 1000;
const across = (x: number) => PAD + x * WIDE;
const up = (y: number) => PAD + (1 - y) * TALL;

interface Props {
  label: string;
  points: Points | null | undefined;
  onMove: (points: Points, done: boolean) => void;
}

/** How strongly something shows from black to white, drawn over a ramp of greys. */
export function ToneWindow({ label, points: given, onMove }: Props) {
  const points = given?.length ? given : FLAT;
  const [held, setHeld] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const flat = points.every(([, weight]) => weight === 1);

  const place = (event: PointerEvent): [number, number] => {
    const rect = drawing.current?.getBoundingClientRect();
    if (!rect) return [0, 0];
    const scale = (WIDE + 2 * PAD) / rect.width;
    const x = ((event.clientX - rect.left) * scale - PAD) / WIDE;
    return [
      rounded(clamp(x)),
      rounded(clamp(1 - ((event.clientY - rect.top) * scale - PAD) / TALL)),
    ];
  };
  const moved = (i: number, [x, y]: [number, number]): Points => {
    const low = (points[i - 1]?.[0] ?? -GAP) + GAP;
    const high = (points[i + 1]?.[0] ?? 1 + GAP) - GAP;
    return points.with(i, [rounded(Math.min(Math.max(x, low), high)), rounded(clamp(y))]);
  };
  const add = (event: PointerEvent) => {
    const at = place(event);
    const near = points.findIndex(([x]) => Math.abs(x - at[0]) < GAP);
    const slot = points.findIndex(([x]) => x > at[0]);
    const i = near >= 0 ? near : slot < 0 ? points.length : slot;
    onMove(near >= 0 ? moved(near, at) : points.toSpliced(i, 0, at), false);
    setHeld(i);
    drawing.current?.setPointerCapture(event.pointerId);
  };
  const letGo = (event: PointerEvent) => {
    if (held === null) return;
    onMove(moved(held, place(event)), true);
    setHeld(null);
  };
  const remove = (i: number) => points.length > 1 && onMove(points.toSpliced(i, 1), true);
  const nudge = (event: KeyboardEvent, i: number) => {
    const way = WAYS[event.key];
    const point = points[i];
    if (event.key === "Delete" || event.key === "Backspace") remove(i);
    else if (way && point) {
      const by = event.shiftKey ? 0.1 : 0.01;
      onMove(moved(i, [point[0] + way[0] * by, point[1] + way[1] * by]), true);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const [first, last] = [points[0], points.at(-1)];
  const line = [[0, first?.[1] ?? 1], ...points, [1, last?.[1] ?? 1]];
  return (
    <Flex gap="6px" align="flex-start">
      <chakra.svg
        ref={drawing}
        role="group"
        aria-label={label}
        width={`${WIDE + 2 * PAD}px`}
        height={`${TALL + 2 * PAD}px`}
        viewBox={`0 0 ${WIDE + 2 * PAD} ${TALL + 2 * PAD}`}
        flex="none"
        style={{ touchAction: "none", userSelect: "none" }}
        onMouseDown={(event) => event.preventDefault()}
        onPointerMove={(event) => held !== null && onMove(moved(held, place(event)), false)}
        onPointerUp={letGo}
        onPointerCancel={letGo}
      >
        <defs>
          <linearGradient id="greys">
            <stop offset="0" stopColor="#000" />
            <stop offset="1" stopColor="#fff" />
          </linearGradient>
        </defs>
        <chakra.rect
          x={PAD}
          y={PAD}
          width={WIDE}
          height={TALL}
          fill="url(#greys)"
          stroke="line"
          cursor="copy"
          onPointerDown={add}
        />
        <chakra.polyline
          points={line.map(([x = 0, y = 0]) => `${across(x)},${up(y)}`).join(" ")}
          fill="none"
          stroke="ember"
          strokeWidth="2"
          pointerEvents="none"
        />
        {points.map(([x, y], i) => (
          <chakra.circle
            // biome-ignore lint/suspicious/noArrayIndexKey: a point is its place in the row
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={`Tone ${i + 1} of ${points.length}`}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={`${(y * 100).toFixed(0)} % at ${(x * 100).toFixed(0)} %`}
            cx={across(x)}
            cy={up(y)}
            r="5"
            fill="sheet"
            stroke="ember"
            strokeWidth="2"
            cursor="grab"
            onPointerDown={(event) => {
              drawing.current?.setPointerCapture(event.pointerId);
              event.currentTarget.focus();
              setHeld(i);
            }}
            onDoubleClick={() => remove(i)}
            onKeyDown={(event) => nudge(event, i)}
          />
        ))}
      </chakra.svg>
      {!flat && (
        <Box pt="4px">
          <Key small tone="bare" type="button" title="All tones" onClick={() => onMove(FLAT, true)}>
            All
          </Key>
        </Box>
      )}
    </Flex>
  );
}
