import { Box } from "@chakra-ui/react";
import { useMemo } from "react";
import type { PlacedItem } from "../../model/reel";
import { headAt, RULER, type Strip } from "../../model/reelStrip";
import { runs } from "../../model/runs";
import { useReel } from "../../store/reel";

/** Bars at the foot of the ruler, over the frames that play finds made. */
export function KeptFrames({ all, strip }: { all: PlacedItem[]; strip: Strip }) {
  const played = useReel((s) => s.played);
  const kept = useMemo(() => runs(played), [played]);
  return kept.map(([from, end]) => {
    const left = headAt(all, strip, from);
    return (
      <Box
        key={from}
        data-kept
        position="absolute"
        top={`${RULER - 4}px`}
        height="3px"
        bg="tide"
        pointerEvents="none"
        style={{ left: `${left}px`, width: `${Math.max(1, headAt(all, strip, end) - left)}px` }}
      />
    );
  });
}
