import { Box, chakra, Flex } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef, useState } from "react";
import { api, got, type Setting } from "../api/client";
import { HistogramPath } from "./Histogram";
import { Key } from "./Button";

type Points = [number, number][];
const CHANNELS = ["luma", "red", "green", "blue"];
const SIDE = 172;
const PAD = 9;
const GAP = 0.01;

interface Props {
  settings: Setting[];
  values: Record<string, Points>;
  /** The mark of a curve's keys. */
  mark: (name: string, label: string) => ReactNode;
  /** Counts of luma, R, G and B, drawn behind. */
  counts?: number[][];
  onMove: (name: string, points: Points, done: boolean) => void;
}

const clamp = (v: number) => Math.min(Math.max(v, 0), 1);
const across = (x: number) => PAD + x * SIDE;
const up = (y: number) => PAD + (1 - y) * SIDE;
const rounded = (v: number) => Math.round(v * 1000) / 1000;
const same = (a: Points, b: Points) => JSON.stringify(a) === JSON.stringify(b);

/** Curves through points: drag them, click the line to add one, Delete or double click takes one out. */
export function CurveEditor({ settings, values, counts, mark, onMove }: Props) {
  const [name, setName] = useState(settings[0]?.name ?? "");
  const [chosen, setChosen] = useState<number | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const points = values[name] ?? [];
  const line = useLine(points);
  const straight = settings.find((s) => s.name === name)?.default as Points | undefined;

  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const rect = drawing.current?.getBoundingClientRect();
    if (!rect) return [0, 0];
    const scale = (SIDE + 2 * PAD) / rect.width;
    const x = ((event.clientX - rect.left) * scale - PAD) / SIDE;
    const y = 1 - ((event.clientY - rect.top) * scale - PAD) / SIDE;
    return [rounded(clamp(x)), rounded(clamp(y))];
  };
  const moved = (i: number, [x, y]: [number, number]): Points => {
    const low = (points[i - 1]?.[0] ?? -GAP) + GAP;
    const high = (points[i + 1]?.[0] ?? 1 + GAP) - GAP;
    return points.with(i, [rounded(Math.min(Math.max(x, low), high)), rounded(clamp(y))]);
  };
  const remove = (i: number) => {
    if (points.length <= 2) return;
    setChosen(null);
    onMove(name, points.toSpliced(i, 1), true);
  };
  const add = (event: PointerEvent<SVGElement>) => {
    const at = place(event);
    if (points.some(([x]) => Math.abs(x - at[0]) < GAP)) return;
    const i = points.findIndex(([x]) => x > at[0]);
    const slot = i < 0 ? points.length : i;
    onMove(name, points.toSpliced(slot, 0, at), false);
    setChosen(slot);
    setHeld(slot);
    drawing.current?.setPointerCapture(event.pointerId);
  };
  const letGo = (event: PointerEvent) => {
    if (held === null) return;
    onMove(name, moved(held, place(event)), true);
    setHeld(null);
  };
  const nudge = (event: KeyboardEvent, i: number) => {
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const way = ways[event.key];
    const point = points[i];
    if (event.key === "Delete" || event.key === "Backspace") remove(i);
    else if (way && point) {
      const by = event.shiftKey ? 0.1 : event.altKey ? 0.001 : 0.01;
      onMove(name, moved(i, [point[0] + way[0] * by, point[1] + way[1] * by]), true);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <Flex gap="12px">
      <chakra.svg
        ref={drawing}
        role="group"
        aria-label={`Curve of ${name}`}
        viewBox={`0 0 ${SIDE + 2 * PAD} ${SIDE + 2 * PAD}`}
        width={`${SIDE + 2 * PAD}px`}
        height={`${SIDE + 2 * PAD}px`}
        flex="none"
        style={{ touchAction: "none", userSelect: "none" }}
        onMouseDown={(event) => event.preventDefault()}
        onPointerMove={(event) => {
          if (held !== null) onMove(name, moved(held, place(event)), false);
        }}
        onPointerUp={letGo}
        onPointerCancel={letGo}
      >
        <defs>
          <linearGradient id="tones">
            <stop offset="0" stopColor="#000" />
            <stop offset="1" stopColor="#fff" />
          </linearGradient>
        </defs>
        <chakra.rect
          x={PAD}
          y={PAD}
          width={SIDE}
          height={SIDE}
          fill="sheet"
          stroke="line"
          onPointerDown={add}
          cursor="copy"
        />
        <g transform={`translate(${PAD} ${PAD})`}>
          <HistogramPath
            counts={counts}
            channel={CHANNELS.indexOf(name)}
            width={SIDE}
            height={SIDE}
          />
        </g>
        <rect x={PAD} y={PAD + SIDE + 3} width={SIDE} height={5} fill="url(#tones)" />
        {[0.25, 0.5, 0.75].map((g) => (
          <g key={g} pointerEvents="none">
            <chakra.line
              x1={across(g)}
              x2={across(g)}
              y1={PAD}
              y2={PAD + SIDE}
              stroke="line"
              strokeDasharray="2 3"
            />
            <chakra.line
              y1={up(g)}
              y2={up(g)}
              x1={PAD}
              x2={PAD + SIDE}
              stroke="line"
              strokeDasharray="2 3"
            />
          </g>
        ))}
        <chakra.line
          x1={PAD}
          y1={PAD + SIDE}
          x2={PAD + SIDE}
          y2={PAD}
          stroke="line"
          pointerEvents="none"
        />
        <chakra.polyline
          points={line.map(([x, y]) => `${across(x)},${up(clamp(y))}`).join(" ")}
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
            aria-label={`Point ${i + 1} of ${points.length}`}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={`${(x * 100).toFixed(1)} % becomes ${(y * 100).toFixed(1)} %`}
            cx={across(x)}
            cy={up(y)}
            r={i === chosen ? 6 : 5}
            fill={i === chosen ? "ember" : "sheet"}
            stroke="ember"
            strokeWidth="2"
            cursor="grab"
            onPointerDown={(event) => {
              drawing.current?.setPointerCapture(event.pointerId);
              event.currentTarget.focus();
              setChosen(i);
              setHeld(i);
            }}
            onFocus={() => setChosen(i)}
            onDoubleClick={() => remove(i)}
            onKeyDown={(event) => nudge(event, i)}
          />
        ))}
      </chakra.svg>
      <Flex direction="column" gap="5px" minW="104px">
        {settings.map((s) => {
          const changed = !same(values[s.name] ?? [], s.default as Points);
          return (
            <Flex key={s.name} className="keyed" data-keyed={s.name} align="center" gap="5px">
              {mark(s.name, s.label)}
              <Key
                small
                type="button"
                flex="1"
                justifyContent="flex-start"
                aria-pressed={name === s.name}
                bg={name === s.name ? "chosen" : "sheet"}
                color={name === s.name ? "chosenInk" : "ink"}
                title={s.help}
                onClick={() => {
                  setName(s.name);
                  setChosen(null);
                }}
              >
                {s.label}
                {changed ? " •" : ""}
              </Key>
            </Flex>
          );
        })}
        <Box color="mute" fontSize="12px" mt="2px" minH="34px">
          {chosen !== null && points[chosen] ? (
            <>
              {(points[chosen][0] * 100).toFixed(1)} % becomes
              <br />
              {(points[chosen][1] * 100).toFixed(1)} %
            </>
          ) : (
            "Click to add a point"
          )}
        </Box>
        <Flex gap="5px">
          <Key
            small
            type="button"
            disabled={chosen === null || points.length <= 2}
            onClick={() => chosen !== null && remove(chosen)}
          >
            Take out
          </Key>
          <Key
            small
            type="button"
            disabled={!straight || same(points, straight)}
            onClick={() => straight && onMove(name, straight, true)}
          >
            Straight
          </Key>
        </Flex>
      </Flex>
    </Flex>
  );
}

/** The curve as the core computes it: the formula stands there alone. */
function useLine(points: Points): Points {
  const { data } = useQuery({
    queryKey: ["curve", points],
    queryFn: () => got(api.POST("/api/curve", { body: { points } })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  return (data?.line as Points | undefined) ?? points;
}
