import { Box, Flex } from "@chakra-ui/react";
import type { Points } from "../api/client";
import { Button } from "./Button";
import { PointDrawing } from "./PointDrawing";
import { type PointBox, usePointBox } from "./pointBox";

const PAD = 6;
const FLAT: Points = [
  [0, 1],
  [1, 1],
];
interface Props {
  label: string;
  points: Points | null | undefined;
  /** In CSS pixels. */
  wide?: number;
  tall?: number;
  onMove: (points: Points, done: boolean) => void;
}

/** How strongly something shows from black to white, drawn over a ramp of greys. */
export function ToneWindow({ label, points: given, wide = 196, tall = 44, onMove }: Props) {
  const box: PointBox = { width: wide, height: tall, margin: PAD };
  const points = given?.length ? given : FLAT;
  const flat = points.every(([, weight]) => weight === 1);
  const handlers = usePointBox(box, points, 1, onMove);
  const [first, last] = [points[0], points.at(-1)];
  const line: Points = [[0, first?.[1] ?? 1], ...points, [1, last?.[1] ?? 1]];
  return (
    <Flex gap="6px" align="flex-start">
      <PointDrawing
        label={label}
        box={box}
        handlers={handlers}
        points={points}
        line={line}
        ground="greys"
        nameOf={(i) => `Tone ${i + 1} of ${points.length}`}
        valueOf={([x, y]) => `${(y * 100).toFixed(0)} % at ${(x * 100).toFixed(0)} %`}
      />
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
