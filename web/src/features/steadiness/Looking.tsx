import { Box, Flex } from "@chakra-ui/react";
import type { Clip, Look, SteadinessStatus } from "../../api/client";
import { useExamination } from "../../store/steadiness";
import { Button } from "../../ui/Button";
import { ProgressLine } from "../../ui/ProgressLine";

/** How far a clip is looked through; it can be given up, and begun again. */
export function Looking({
  clip,
  look,
  status,
}: {
  clip: Clip;
  look: Look;
  status: SteadinessStatus;
}) {
  const examination = useExamination(clip, look);
  const { done, total, rate, stopped } = status;
  if (stopped)
    return (
      <Flex align="baseline" gap="14px">
        <Box role="status">
          Stopped at frame {done} of {total}; nothing is known of the clip as a whole.
        </Box>
        <Button type="button" onClick={examination.again}>
          Look through it
        </Button>
      </Flex>
    );
  return (
    <Box maxW="640px">
      <ProgressLine
        says={`Looking through ${clip.name}: frame`}
        label="Looking through the clip"
        done={done}
        total={total}
        rate={rate}
        onStop={examination.stop}
      />
    </Box>
  );
}
