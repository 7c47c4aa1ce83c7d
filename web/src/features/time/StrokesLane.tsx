import { Box } from "@chakra-ui/react";
import { strokedFrames } from "../../model/strokes";
import { useBench } from "../../store/bench";
import { useLifting } from "../../store/lifting";
import { goTo } from "../../store/playRange";
import { FrameDot } from "./FrameDot";

/** The shape that strokes are being drawn for, on the clip and step that are open. */
export function useStrokesShown(): string | null {
  const clip = useBench((s) => s.clip?.id);
  const open = useBench((s) => s.open);
  const where = useBench((s) => s.question === "where");
  const of = useLifting((s) => s.of);
  return where && of?.clip === clip && of?.step === open ? (of?.shape ?? null) : null;
}

/** The frames that strokes are drawn on. */
export function StrokesLane({ height }: { height: string }) {
  const shape = useStrokesShown();
  const frames = useBench((s) => s.clip?.frames) ?? 1;
  const strokes = useLifting((s) => s.strokes);
  if (shape === null) return null;
  return (
    <Box position="relative" height={height} role="group" aria-label={`Strokes of ${shape}`}>
      <Box position="absolute" top="5px" height="4px" left="0" right="0" bg="line" />
      {strokedFrames(strokes).map((frame) => (
        <FrameDot
          key={frame}
          type="button"
          aria-label={`Strokes at frame ${frame}`}
          title={`Strokes at frame ${frame}`}
          style={{ left: `${(100 * (frame + 0.5)) / frames}%` }}
          onClick={() => goTo(frame)}
        />
      ))}
    </Box>
  );
}
