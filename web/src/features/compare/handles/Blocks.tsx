import { chakra } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { PlacedBlock } from "../../../api/client";
import { Grip } from "./Grip";
import { perCent, type Shape } from "./shapes";

const Rect = chakra("rect");

/** Of the frame, that a block must at least be to have been drawn, and not clicked. */
const LEAST = 0.01;

/** Where a new block is thrown, in px@1080. */
const THROW = 120;

const LINES = 1080;

interface Drag {
  x: number;
  y: number;
}

const blockBetween = (from: Drag, to: Drag): PlacedBlock => ({
  left: Math.min(from.x, to.x),
  top: Math.min(from.y, to.y),
  width: Math.abs(to.x - from.x),
  height: Math.abs(to.y - from.y),
  throw: THROW,
});

const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

/** A block that a look can hold, whatever it was dragged to: it stays in reach of the frame. */
const clampBlock = (block: PlacedBlock): PlacedBlock => ({
  left: clamp(block.left, -1, 1),
  top: clamp(block.top, -1, 1),
  width: clamp(block.width, LEAST, 3),
  height: clamp(block.height, LEAST / 2, 3),
  throw: clamp(block.throw, -4 * LINES, 4 * LINES),
});

const isLargeEnough = (block: PlacedBlock) => block.width > LEAST && block.height > LEAST / 2;

/** Blocks of the picture, drawn by dragging: each is moved by its middle, thrown by its arrow. */
export function Blocks({ step, box, set }: Shape) {
  const blocks = step.settings.placed as PlacedBlock[];
  const start = useRef<Drag | null>(null);
  const [fresh, setFresh] = useState<PlacedBlock | null>(null);
  const placeUnder = (event: PointerEvent<SVGRectElement>): Drag => {
    const rect = event.currentTarget.getBoundingClientRect();
    return {
      x: Math.min(Math.max((event.clientX - rect.left) / rect.width, 0), 1),
      y: Math.min(Math.max((event.clientY - rect.top) / rect.height, 0), 1),
    };
  };
  const change = (i: number, given: Partial<PlacedBlock>, done: boolean) =>
    set(done, ["placed", blocks.map((b, n) => (n === i ? clampBlock({ ...b, ...given }) : b))]);
  const handleBlockKey = (i: number) => (event: KeyboardEvent) => {
    if (event.key !== "Delete" && event.key !== "Backspace") return;
    event.preventDefault();
    event.stopPropagation();
    set(true, ["placed", blocks.toSpliced(i, 1)]);
  };
  return (
    <>
      <Rect
        data-drawing
        aria-hidden
        x={box.left}
        y={box.top}
        width={box.width}
        height={box.height}
        fill="transparent"
        pointerEvents="all"
        cursor="crosshair"
        style={{ touchAction: "none" }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          start.current = placeUnder(event);
        }}
        onPointerMove={(event) => {
          if (start.current) setFresh(blockBetween(start.current, placeUnder(event)));
        }}
        onPointerUp={() => {
          if (fresh && isLargeEnough(fresh)) set(true, ["placed", [...blocks, fresh]]);
          start.current = null;
          setFresh(null);
        }}
        onPointerCancel={() => {
          start.current = null;
          setFresh(null);
        }}
      />
      {fresh && <Outline block={fresh} box={box} />}
      {blocks.map((block, i) => {
        const x = box.left + (block.left + block.width / 2) * box.width;
        const y = box.top + (block.top + block.height / 2) * box.height;
        const far = (block.throw / LINES) * box.height;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: blocks are told apart by their order
          // biome-ignore lint/a11y/noStaticElementInteractions: its grips are the buttons; Delete on them takes the block out
          <g key={i} onKeyDown={handleBlockKey(i)}>
            <Outline block={block} box={box} />
            <line x1={x} y1={y} x2={x + far} y2={y} stroke="#ffffff" strokeWidth="1.5" />
            <Grip
              name="placed"
              label={`Block ${i + 1}: ${perCent(block.left)} across, ${perCent(block.top)} down; Delete takes it out`}
              x={x}
              y={y}
              unit={box}
              value={[block.left, block.top]}
              stays
              onMove={(dx, dy, done, [left, top]) =>
                change(i, { left: left + dx / box.width, top: top + dy / box.height }, done)
              }
            />
            <Grip
              name="placed"
              label={`Size of block ${i + 1}: ${perCent(block.width)} by ${perCent(block.height)}`}
              x={x + (block.width / 2) * box.width}
              y={y + (block.height / 2) * box.height}
              unit={box}
              value={[block.width, block.height]}
              stays
              onMove={(dx, dy, done, [width, height]) =>
                change(i, { width: width + dx / box.width, height: height + dy / box.height }, done)
              }
            />
            <Grip
              name="placed"
              label={`Throw of block ${i + 1}: ${Math.round(block.throw)} px`}
              x={x + far}
              y={y}
              unit={box}
              value={[block.throw, 0]}
              onMove={(dx, _, done, [by]) =>
                change(i, { throw: Math.round(by + (dx / box.height) * LINES) }, done)
              }
            />
          </g>
        );
      })}
    </>
  );
}

function Outline({ block, box }: { block: PlacedBlock; box: Shape["box"] }) {
  return (
    <rect
      x={box.left + block.left * box.width}
      y={box.top + block.top * box.height}
      width={block.width * box.width}
      height={block.height * box.height}
      fill="none"
      stroke="#ffffff"
      strokeDasharray="6 5"
      pointerEvents="none"
    />
  );
}
