import { Box, chakra, Flex } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, type Setting, unwrap } from "../api/client";
import { Button } from "./Button";
import { HistogramPath } from "./Histogram";
import { PointDrawing } from "./PointDrawing";
import { type PointBox, usePointBox } from "./pointBox";

type Points = [number, number][];
const CHANNELS = ["luma", "red", "green", "blue"];
const PAD = 9;
/** How much wider than high the drawing is. */
const SHAPE = 1.7;

interface Props {
  settings: Setting[];
  values: Record<string, Points>;
  /** The mark of a curve's keys. */
  mark: (name: string, label: string) => ReactNode;
  /** Counts of luma, R, G and B, drawn behind. */
  counts?: number[][];
  /** How high it may be, in CSS pixels. */
  tall: number;
  onMove: (name: string, points: Points, done: boolean) => void;
}

const same = (a: Points, b: Points) => JSON.stringify(a) === JSON.stringify(b);

/** Curves through points: drag them, click the line to add one, Delete or double click takes one out. */
export function CurveEditor({ settings, values, counts, tall, mark, onMove }: Props) {
  const height = Math.min(tall - 2 * PAD, 260);
  const width = Math.round(height * SHAPE);
  const box: PointBox = { width, height, margin: PAD };
  const [name, setName] = useState(settings[0]?.name ?? "");
  const points = values[name] ?? [];
  const line = useLine(points);
  const straight = settings.find((s) => s.name === name)?.default as Points | undefined;
  const handlers = usePointBox(box, points, 2, (next, done) => onMove(name, next, done));
  const { chosen, choose, remove, across, up } = handlers;

  return (
    <Flex gap="12px">
      <PointDrawing
        label={settings.length > 1 ? `Curve of ${name}` : "Curve"}
        box={box}
        handlers={handlers}
        points={points}
        line={line}
        marksChosen
        ground="paper"
        nameOf={(i) => `Point ${i + 1} of ${points.length}`}
        valueOf={([x, y]) => `${(x * 100).toFixed(1)} % becomes ${(y * 100).toFixed(1)} %`}
      >
        {(greys) => (
          <>
            <g transform={`translate(${PAD} ${PAD})`}>
              <HistogramPath
                counts={counts}
                channel={Math.max(CHANNELS.indexOf(name), 0)}
                width={width}
                height={height}
              />
            </g>
            <rect x={PAD} y={PAD + height + 3} width={width} height={5} fill={greys} />
            {[0.25, 0.5, 0.75].map((g) => (
              <g key={g} pointerEvents="none">
                <chakra.line
                  x1={across(g)}
                  x2={across(g)}
                  y1={PAD}
                  y2={PAD + height}
                  stroke="line"
                  strokeDasharray="2 3"
                />
                <chakra.line
                  y1={up(g)}
                  y2={up(g)}
                  x1={PAD}
                  x2={PAD + width}
                  stroke="line"
                  strokeDasharray="2 3"
                />
              </g>
            ))}
            <chakra.line
              x1={PAD}
              y1={PAD + height}
              x2={PAD + width}
              y2={PAD}
              stroke="line"
              pointerEvents="none"
            />
          </>
        )}
      </PointDrawing>
      <Flex direction="column" gap="5px" minW="104px">
        {settings.map((s) => {
          const changed = !same(values[s.name] ?? [], s.default as Points);
          return (
            <Flex key={s.name} className="keyed" data-keyed={s.name} align="center" gap="5px">
              {mark(s.name, s.label)}
              <Button
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
                  choose(null);
                }}
              >
                {s.label}
                {changed ? " •" : ""}
              </Button>
            </Flex>
          );
        })}
      </Flex>
      <Flex direction="column" gap="5px" align="flex-start">
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
          <Button
            small
            type="button"
            disabled={chosen === null || points.length <= 2}
            onClick={() => chosen !== null && remove(chosen)}
          >
            Remove
          </Button>
          <Button
            small
            type="button"
            disabled={!straight || same(points, straight)}
            onClick={() => straight && onMove(name, straight, true)}
          >
            Straight
          </Button>
        </Flex>
      </Flex>
    </Flex>
  );
}

/** The curve as the core computes it: the formula stands there alone. */
function useLine(points: Points): Points {
  const { data } = useQuery({
    queryKey: ["curve", points],
    queryFn: () => unwrap(api.POST("/api/v1/curves", { body: { points } })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  return (data?.line as Points | undefined) ?? points;
}
