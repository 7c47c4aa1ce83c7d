import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Points } from "../api/client";
import { Button } from "./Button";
import { type PointBox, usePointBox } from "./pointBox";

const WIDE = 196;
const TALL = 44;
const PAD = 6;
const BOX: PointBox = { width: WIDE, height: TALL, margin: PAD };
const FLAT: Points = [
  [0, 1],
  [1, 1],
];
interface Props {
  label: string;
  points: Points | null | undefined;
  onMove: (points: Points, done: boolean) => void;
}

/** How strongly something shows from black to white, drawn over a ramp of greys. */
export function ToneWindow({ label, points: given, onMove }: Props) {
  const points = given?.length ? given : FLAT;
  const flat = points.every(([, weight]) => weight === 1);
  const { drawing, across, up, dragging, add, point } = usePointBox(BOX, points, 1, onMove);
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
        {...dragging}
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
            {...point(i)}
          />
        ))}
      </chakra.svg>
      {!flat && (
        <Box pt="4px">
          <Button
            small
            tone="bare"
            type="button"
            title="All tones"
            onClick={() => onMove(FLAT, true)}
          >
            All
          </Button>
        </Box>
      )}
    </Flex>
  );
}
