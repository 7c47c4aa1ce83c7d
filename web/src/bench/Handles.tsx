import { chakra } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { SettingValue, Step } from "../api/client";
import { treatmentOf, useBench } from "../state/bench";
import { changeValues } from "../state/edits";
import { findStep, rowOf } from "../state/steps";
import { useAtFrame } from "../state/values";

const Svg = chakra("svg");
const Group = chakra("g");

type Point = [number, number];

interface Size {
  width: number;
  height: number;
}

interface Box extends Size {
  left: number;
  top: number;
}

/** What of the open step is set on the picture itself: drawn over it, dragged, or moved by keys. */
export function Handles({ width, height }: Size) {
  const open = useBench((s) => s.open);
  const steps = useBench((s) => s.look?.steps) ?? [];
  const step = findStep(steps, open);
  if (!step?.on || !treatmentOf(step)?.handle) return null;
  const box = leftBefore(rowOf(steps, step.id), step, { width, height });
  return (
    <Svg
      position="absolute"
      inset="0"
      width="100%"
      height="100%"
      pointerEvents="none"
      overflow="visible"
      viewBox={`0 0 ${width} ${height}`}
    >
      <title>What is set on the picture</title>
      <Drawn written={step} box={box} size={{ width, height }} />
    </Svg>
  );
}

/** The largest box of a ratio in the middle of a picture. */
function boxOf(ratio: number, { width, height }: Size): Box {
  const wide = Math.min(width, height * ratio);
  const high = Math.min(height, width / ratio);
  return { left: (width - wide) / 2, top: (height - high) / 2, width: wide, height: high };
}

/** What steps before have left of the frame. */
function leftBefore(row: Step[], step: Step, size: Size): Box {
  const before = row.slice(0, row.indexOf(step)).filter((s) => s.on);
  const last = before.filter((s) => treatmentOf(s)?.handle === "window").at(-1);
  return last
    ? boxOf(Number(last.settings.ratio), size)
    : { left: 0, top: 0, width: size.width, height: size.height };
}

function Drawn({ written, box, size }: { written: Step; box: Box; size: Size }) {
  const step = useAtFrame(written);
  const set = (done: boolean, ...values: [string, SettingValue][]) =>
    changeValues(step.id, values, done);
  switch (treatmentOf(step)?.handle) {
    case "point":
      return <Centre step={step} box={box} set={set} />;
    case "ellipse":
      return <Ellipse step={step} box={box} set={set} />;
    default:
      return <Window step={step} size={size} set={set} />;
  }
}

interface Shape {
  step: Step;
  box: Box;
  set: (done: boolean, ...values: [string, SettingValue][]) => void;
}

const within = (v: number) => Math.min(Math.max(v, 0), 1);

const placeOf = (value: unknown): Point => value as Point;

const perCent = (v: number) => `${Math.round(100 * v)} %`;

const saysPlace = ([x, y]: Point) => `${perCent(x)} across, ${perCent(y)} down`;

function Centre({ step, box, set }: Shape) {
  const centre = placeOf(step.settings.centre);
  return (
    <Grip
      name="centre"
      label={`Centre: ${saysPlace(centre)}`}
      x={box.left + centre[0] * box.width}
      y={box.top + centre[1] * box.height}
      unit={box}
      onMove={(dx, dy, done, from) =>
        set(done, ["centre", [within(from[0] + dx / box.width), within(from[1] + dy / box.height)]])
      }
      value={centre}
    />
  );
}

function Ellipse({ step, box, set }: Shape) {
  const centre = placeOf(step.settings.centre);
  const size = placeOf(step.settings.size);
  const turn = Number(step.settings.turn);
  const angle = (turn * Math.PI) / 180;
  const x = box.left + centre[0] * box.width;
  const y = box.top + centre[1] * box.height;
  const wide = size[0] * box.width;
  const high = size[1] * box.height;
  const along: Point = [Math.cos(angle), Math.sin(angle)];
  const beside: Point = [-along[1], along[0]];
  const least = 0.02;
  const resized = (axis: 0 | 1, by: number, from: Point): Point =>
    from.map((v, i) => (i === axis ? Math.min(Math.max(v + by, least), 1) : v)) as Point;
  const beyond = wide + 34;
  return (
    <>
      <g transform={`translate(${x} ${y}) rotate(${turn})`} fill="none">
        <ellipse rx={wide} ry={high} stroke="#000000" strokeOpacity="0.55" strokeWidth="3.5" />
        <ellipse rx={wide} ry={high} stroke="#ffffff" strokeWidth="1.5" />
        <line x1={wide} x2={beyond} stroke="#ffffff" strokeWidth="1.5" />
      </g>
      <Centre step={step} box={box} set={set} />
      <Grip
        name="size"
        label={`Size across: ${perCent(size[0])}`}
        x={x + along[0] * wide}
        y={y + along[1] * wide}
        unit={box}
        value={size}
        onMove={(dx, dy, done, from) =>
          set(done, ["size", resized(0, (dx * along[0] + dy * along[1]) / box.width, from)])
        }
      />
      <Grip
        name="size"
        label={`Size down: ${perCent(size[1])}`}
        x={x + beside[0] * high}
        y={y + beside[1] * high}
        unit={box}
        value={size}
        onMove={(dx, dy, done, from) =>
          set(done, ["size", resized(1, (dx * beside[0] + dy * beside[1]) / box.height, from)])
        }
      />
      <Grip
        name="turn"
        label={`Turn: ${Math.round(turn)}°`}
        x={x + along[0] * beyond}
        y={y + along[1] * beyond}
        unit={{ width: 180, height: 180 }}
        value={[turn, 0]}
        onMove={(dx, dy, done, from) => {
          const start = (from[0] * Math.PI) / 180;
          const now = Math.atan2(Math.sin(start) * beyond + dy, Math.cos(start) * beyond + dx);
          const degrees = (((((now * 180) / Math.PI + 90) % 180) + 180) % 180) - 90;
          set(done, ["turn", Math.round(10 * degrees) / 10]);
        }}
      />
    </>
  );
}

/** The picture is moved behind its frame. */
function Window({ step, size, set }: { step: Step; size: Size; set: Shape["set"] }) {
  const box = boxOf(Number(step.settings.ratio), size);
  const part = Number(step.settings.size);
  const place = placeOf(step.settings.place);
  const room: Point = [size.width - box.width * part, size.height - box.height * part];
  const moved = (by: number, axis: 0 | 1, from: Point) =>
    room[axis] > 1 ? within(from[axis] - (by * part) / room[axis]) : from[axis];
  return (
    <>
      <rect
        x={box.left}
        y={box.top}
        width={box.width}
        height={box.height}
        fill="none"
        stroke="#ffffff"
        strokeDasharray="6 5"
      />
      <Grip
        name="place"
        label={`The picture behind its frame: ${saysPlace(place)}`}
        x={size.width / 2}
        y={size.height / 2}
        unit={size}
        value={place}
        stays
        onMove={(dx, dy, done, from) =>
          set(done, ["place", [moved(dx, 0, from), moved(dy, 1, from)]])
        }
      />
    </>
  );
}

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
function Grip({ name, label, x, y, unit, value, stays, onMove }: GripProps) {
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
