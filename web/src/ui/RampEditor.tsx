import { Box, chakra, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Stops } from "../api/client";
import { Button } from "./Button";
import { ColourField } from "./ColourField";

const GAP = 0.005;
const MOST = 8;

const BLACK_TO_WHITE: Stops = [
  [0, "#000000"],
  [1, "#ffffff"],
];

const clamp = (v: number) => Math.min(Math.max(v, 0), 1);
const roundPlace = (v: number) => Math.round(v * 1000) / 1000;

const mixColours = (a: string, b: string, part: number) =>
  `#${[1, 3, 5]
    .map((i) => {
      const [from, to] = [
        Number.parseInt(a.slice(i, i + 2), 16),
        Number.parseInt(b.slice(i, i + 2), 16),
      ];
      return Math.round(from + (to - from) * part)
        .toString(16)
        .padStart(2, "0");
    })
    .join("")}`;

/** Which luma is drawn in which colour: stops on the ramp they make. */
export function RampEditor({
  stops,
  initial,
  onMove,
}: {
  stops: Stops;
  initial: Stops;
  onMove: (stops: Stops, done: boolean) => void;
}) {
  const [chosen, setChosen] = useState(0);
  /** Where a stop was taken hold of, in pixels, and where it stood then. */
  const held = useRef<{ x: number; from: number } | null>(null);
  const bar = useRef<HTMLDivElement>(null);
  const at = Math.min(chosen, stops.length - 1);
  const stop = stops[at];

  /** Where a held stop has been dragged to; a click alone leaves it. */
  const dragStop = (event: PointerEvent): Stops | null => {
    const rect = bar.current?.getBoundingClientRect();
    const by = event.clientX - (held.current?.x ?? event.clientX);
    return rect && held.current && by ? moveStop(held.current.from + by / rect.width) : null;
  };
  const place = (event: PointerEvent) => {
    const rect = bar.current?.getBoundingClientRect();
    return rect ? roundPlace(clamp((event.clientX - rect.left) / rect.width)) : 0;
  };
  const moveStop = (x: number): Stops => {
    const low = (stops[at - 1]?.[0] ?? -GAP) + GAP;
    const high = (stops[at + 1]?.[0] ?? 1 + GAP) - GAP;
    return stops.with(at, [roundPlace(Math.min(Math.max(x, low), high)), stop?.[1] ?? "#808080"]);
  };
  const add = (x: number) => {
    if (stops.length >= MOST || stops.some(([s]) => Math.abs(s - x) < 2 * GAP)) return;
    const slot = stops.findIndex(([s]) => s > x);
    const i = slot < 0 ? stops.length : slot;
    const [before, after] = [stops[i - 1] ?? stops[i], stops[i] ?? stops[i - 1]];
    if (!before || !after) return;
    const part = after[0] > before[0] ? (x - before[0]) / (after[0] - before[0]) : 0;
    onMove(stops.toSpliced(i, 0, [x, mixColours(before[1], after[1], part)]), true);
    setChosen(i);
  };
  const remove = () => {
    if (stops.length <= 2) return;
    onMove(stops.toSpliced(at, 1), true);
    setChosen(Math.max(at - 1, 0));
  };
  const neighbour = stops[at + 1] ?? stops[at - 1];
  const nudge = (event: KeyboardEvent) => {
    const by = event.key === "ArrowLeft" ? -0.01 : event.key === "ArrowRight" ? 0.01 : 0;
    if (event.key === "Delete" || event.key === "Backspace") remove();
    else if (event.key === "Enter") add(((stop?.[0] ?? 0) + (neighbour?.[0] ?? 0)) / 2);
    else if (by && stop) onMove(moveStop(stop[0] + by * (event.shiftKey ? 10 : 1)), true);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Box width="330px" flex="none">
      <Box color="mute" fontSize="12px" mb="3px">
        From black to white. Click the ramp to add a stop.
      </Box>
      <Box
        ref={bar}
        height="40px"
        borderRadius="4px"
        borderWidth="1px"
        borderColor="line"
        cursor="copy"
        onMouseDown={(event) => event.preventDefault()}
        onPointerDown={(event) => add(place(event))}
        style={{
          background: `linear-gradient(to right, ${stops.map(([x, c]) => `${c} ${100 * x}%`).join(", ")})`,
        }}
      />
      <Box position="relative" height="24px" mx="1px" style={{ touchAction: "none" }}>
        {stops.map(([x, colour], i) => (
          <chakra.button
            // biome-ignore lint/suspicious/noArrayIndexKey: a stop is its place in the row
            key={i}
            type="button"
            role="slider"
            aria-label={`Stop ${i + 1} of ${stops.length}`}
            aria-valuenow={Math.round(100 * x)}
            aria-valuetext={`${colour} at ${(100 * x).toFixed(0)} %`}
            position="absolute"
            top="3px"
            width="16px"
            height="18px"
            ml="-8px"
            borderRadius="4px"
            borderWidth="2px"
            borderColor={i === at ? "ember" : "ink"}
            cursor="ew-resize"
            style={{ left: `${100 * x}%`, background: colour }}
            onFocus={() => setChosen(i)}
            userSelect="none"
            onMouseDown={(event) => event.preventDefault()}
            onPointerDown={(event) => {
              event.currentTarget.focus();
              event.currentTarget.setPointerCapture(event.pointerId);
              setChosen(i);
              held.current = { x: event.clientX, from: x };
            }}
            onPointerMove={(event) => {
              const next = i === at && dragStop(event);
              if (next) onMove(next, false);
            }}
            onPointerUp={(event) => {
              const next = i === at && dragStop(event);
              if (next) onMove(next, true);
              held.current = null;
            }}
            onKeyDown={nudge}
          />
        ))}
      </Box>
      {stop && (
        <ColourField
          label={`Stop ${at + 1}, at ${(100 * stop[0]).toFixed(1)} %`}
          value={stop[1]}
          onMove={(colour, done) => onMove(stops.with(at, [stop[0], colour]), done)}
        />
      )}
      <Flex gap="6px" mt="6px">
        <Button small type="button" disabled={stops.length <= 2} onClick={remove}>
          Remove
        </Button>
        <Button
          small
          type="button"
          onClick={() =>
            onMove([...stops].reverse().map(([x, c]) => [roundPlace(1 - x), c]) as Stops, true)
          }
        >
          Turn round
        </Button>
        <Button small type="button" onClick={() => onMove(BLACK_TO_WHITE, true)}>
          Black to white
        </Button>
        <Button small type="button" onClick={() => onMove(initial, true)}>
          As made
        </Button>
      </Flex>
    </Box>
  );
}
