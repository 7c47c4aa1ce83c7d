import { Box } from "@chakra-ui/react";
import type { Shape, Step } from "../../api/client";
import { useBench } from "../../store/bench";
import { openLifting, useIsLifted } from "../../store/lifting";
import { Button } from "../../ui/Button";
import { LiftProgress } from "./LiftProgress";

/** The way to the strokes that a matte was found from, or is to be. */
export function LiftedFrom({ step, shape, file }: { step: Step; shape: Shape; file: string }) {
  const clip = useBench((s) => s.clip?.id) ?? -1;
  const lifted = useIsLifted(file, clip);
  return (
    <>
      <LiftProgress step={step.id} shape={shape.id} />
      <Box my="3px">
        <Button
          small
          type="button"
          height="24px"
          title="Strokes on the picture say what is the figure and what is not"
          onClick={() => void openLifting(step, shape)}
        >
          {lifted ? "More strokes…" : "Lift out of this clip…"}
        </Button>
      </Box>
    </>
  );
}
