import { Box } from "@chakra-ui/react";
import { type PointerEvent, useState } from "react";
import type { PlacedItem } from "../../model/reel";
import { RULER, type Strip } from "../../model/reelStrip";
import { useBench } from "../../store/bench";
import { useReel } from "../../store/reel";
import { trim } from "../../store/reelEdits";

/** The ends of the chosen shots, over the strip. */
export function ShotEnds({ all, strip }: { all: PlacedItem[]; strip: Strip }) {
  const chosen = useReel((s) => s.chosen);
  const readOnly = useBench((s) => s.readOnly);
  if (readOnly) return null;
  return all.flatMap(({ item, begins, ends }, n) => {
    const cell = strip.cells[n];
    if (!cell || !chosen.has(item.id)) return [];
    const perFrame = cell.width / (ends - begins);
    return (["first", "last"] as const).map((edge) => (
      <End
        key={`${item.id} ${edge}`}
        id={item.id}
        edge={edge}
        perFrame={perFrame}
        wide={Math.min(WIDTH, cell.width / 2)}
        left={
          edge === "first" ? cell.left : cell.left + cell.width - Math.min(WIDTH, cell.width / 2)
        }
      />
    ));
  });
}

/** CSS pixels: how wide a place to take hold is (WCAG 2.2, 2.5.8), and what is seen of it. */
const WIDTH = 24;
const SEEN = 9;

interface EndProps {
  id: string;
  edge: "first" | "last";
  /** CSS pixels. */
  perFrame: number;
  left: number;
  wide: number;
}

/** An end of a chosen shot: dragged, or moved by the arrow keys. */
function End({ id, edge, perFrame, left, wide }: EndProps) {
  const [from, setFrom] = useState<number | null>(null);
  const [by, setBy] = useState(0);
  const framesMoved = (event: PointerEvent) =>
    from === null ? 0 : Math.round((event.clientX - from) / perFrame);
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={edge === "first" ? "Where it begins" : "Where it ends"}
      aria-valuenow={by}
      aria-valuetext={`${by} frames`}
      title="Drag; or the arrow keys, a frame at a time"
      position="absolute"
      top={`${RULER}px`}
      height="52px"
      width={`${wide}px`}
      cursor="ew-resize"
      style={{ touchAction: "none", left: `${left}px` }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom(event.clientX);
      }}
      onPointerMove={(event) => setBy(framesMoved(event))}
      onPointerUp={(event) => {
        const frames = framesMoved(event);
        setFrom(null);
        setBy(0);
        if (frames) trim(id, edge, frames);
      }}
      onKeyDown={(event) => {
        const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        trim(id, edge, way * (event.shiftKey ? 10 : 1));
      }}
    >
      <Box
        position="absolute"
        top="0"
        bottom="0"
        width={`${Math.min(SEEN, wide)}px`}
        bg="ember"
        style={{ [edge === "first" ? "left" : "right"]: 0 }}
      />
      {by !== 0 && (
        <Box
          position="absolute"
          top="2px"
          px="4px"
          bg="ember"
          color="emberInk"
          fontSize="11px"
          whiteSpace="nowrap"
          style={{ [edge === "first" ? "left" : "right"]: "9px" }}
        >
          {by > 0 ? `+${by}` : by} frames
        </Box>
      )}
    </Box>
  );
}
