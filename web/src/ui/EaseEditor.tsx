import { chakra } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";

type Handles = [number, number, number, number];

const WIDE = 64;
const TALL = 26;
const PAD = 7;
const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);
const roundValue = (v: number) => Math.round(v * 100) / 100;
const toX = (x: number) => PAD + x * WIDE;
const toY = (y: number) => PAD + (1 - y) * TALL;

/** How a key leads on to the next, left to right: two handles bend the line (CSS cubic-bezier). */
export function EaseEditor({
  handles,
  onMove,
}: {
  handles: Handles;
  onMove: (handles: Handles, done: boolean) => void;
}) {
  const [held, setHeld] = useState<0 | 2 | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const moveHandle = (at: 0 | 2, x: number, y: number): Handles =>
    handles
      .with(at, roundValue(clamp(x, 0, 1)))
      .with(at + 1, roundValue(clamp(y, -2, 3))) as Handles;
  const drag = (event: PointerEvent, done: boolean) => {
    const rect = drawing.current?.getBoundingClientRect();
    if (held === null || !rect) return;
    const x = (event.clientX - rect.left - PAD) / WIDE;
    onMove(moveHandle(held, x, 1 - (event.clientY - rect.top - PAD) / TALL), done);
    if (done) setHeld(null);
  };
  const nudge = (event: KeyboardEvent, at: 0 | 2) => {
    const by = event.shiftKey ? 0.1 : 0.01;
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-by, 0],
      ArrowRight: [by, 0],
      ArrowUp: [0, by],
      ArrowDown: [0, -by],
    };
    const way = ways[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    onMove(moveHandle(at, (handles[at] ?? 0) + way[0], (handles[at + 1] ?? 0) + way[1]), true);
  };
  const [x1, y1, x2, y2] = handles;
  const ends: [0 | 2, number, number, number, number][] = [
    [0, 0, 0, x1, y1],
    [2, 1, 1, x2, y2],
  ];
  return (
    <chakra.svg
      ref={drawing}
      role="group"
      aria-label="Ease"
      width={`${WIDE + 2 * PAD}px`}
      height={`${TALL + 2 * PAD}px`}
      flex="none"
      overflow="visible"
      style={{ touchAction: "none" }}
      onMouseDown={(event) => event.preventDefault()}
      onPointerMove={(event) => drag(event, false)}
      onPointerUp={(event) => drag(event, true)}
      onPointerCancel={(event) => drag(event, true)}
    >
      <chakra.rect x={PAD} y={PAD} width={WIDE} height={TALL} fill="sheet" stroke="line" />
      <chakra.path
        d={`M${toX(0)} ${toY(0)} C${toX(x1)} ${toY(y1)} ${toX(x2)} ${toY(y2)} ${toX(1)} ${toY(1)}`}
        fill="none"
        stroke="ink"
        strokeWidth="1.6"
      />
      {ends.map(([at, fromX, fromY, x, y]) => (
        <g key={at}>
          <chakra.line
            x1={toX(fromX)}
            y1={toY(fromY)}
            x2={toX(x)}
            y2={toY(y)}
            stroke="tide"
            pointerEvents="none"
          />
          <chakra.circle
            cx={toX(x)}
            cy={toY(y)}
            r="5"
            fill="sheet"
            stroke="tide"
            strokeWidth="2"
            cursor="grab"
            role="slider"
            tabIndex={0}
            aria-label={at === 0 ? "Handle where it leaves" : "Handle where it arrives"}
            aria-valuenow={y}
            aria-valuetext={`${x}, ${y}`}
            onPointerDown={(event) => {
              drawing.current?.setPointerCapture(event.pointerId);
              event.currentTarget.focus();
              setHeld(at);
            }}
            onKeyDown={(event) => nudge(event, at)}
          />
        </g>
      ))}
    </chakra.svg>
  );
}
