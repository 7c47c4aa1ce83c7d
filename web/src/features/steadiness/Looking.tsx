import { Box, Flex } from "@chakra-ui/react";
import type { Clip, Look, SteadinessStatus } from "../../api/client";
import { duration } from "../../model/duration";
import { useExamination } from "../../store/steadiness";
import { Button } from "../../ui/Button";

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
    <Flex align="center" gap="18px" maxW="640px">
      <Box flex="1">
        <Box role="status">
          Looking through {clip.name}: frame {done} of {total}
          {rate ? ` · ${rate.toFixed(1)} frames/s · ${duration((total - done) / rate)} left` : ""}
        </Box>
        <Box
          role="progressbar"
          aria-label="Looking through the clip"
          aria-valuenow={done}
          aria-valuemin={0}
          aria-valuemax={total}
          height="6px"
          borderRadius="3px"
          bg="line"
          mt="6px"
          overflow="hidden"
        >
          <Box height="100%" bg="tide" style={{ width: `${(100 * done) / Math.max(total, 1)}%` }} />
        </Box>
      </Box>
      <Button type="button" onClick={examination.stop}>
        Stop
      </Button>
    </Flex>
  );
}
