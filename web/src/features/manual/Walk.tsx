import { Box, Flex } from "@chakra-ui/react";
import type { Starter, Step } from "../../api/client";
import { treatmentName } from "../../model/stepNames";
import { addWalkStep, endWalk } from "../../store/starters";
import { Button } from "../../ui/Button";

/** A recipe, walked through: what the next step is for, and the step itself. */
export function Walk({ starter, steps }: { starter: Starter; steps: Step[] }) {
  const all = starter.look.steps;
  const has = (step: Step) => steps.some((s) => s.id === step.id);
  const left = all.filter((step) => !has(step));
  const next = left[0];
  const last = all.filter(has).at(-1);
  return (
    <Box
      as="section"
      aria-label={`Walk through ${starter.name}`}
      bg="wallKey"
      borderRadius="6px"
      p="9px"
    >
      <Box fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="16px">
        {starter.name}
      </Box>
      <Box color="wallMute">
        {last ? `step ${all.length - left.length} of ${all.length}` : starter.summary}
      </Box>
      {last && (
        <Box mt="5px" aria-live="polite">
          <b>{treatmentName(last.treatment)}.</b> {last.note}
        </Box>
      )}
      {last && next && (
        <Box mt="5px" color="wallMute">
          Look at the picture with and without it (X), move what you like, then go on.
        </Box>
      )}
      {!next && (
        <Box mt="5px">That is all of it. The look is yours: change it, keep it, render it.</Box>
      )}
      <Flex gap="6px" mt="8px">
        {next && (
          <Button tone="wallOn" small type="button" onClick={() => void addWalkStep(starter, next)}>
            {last ? "Next" : "First"}: {treatmentName(next.treatment)}
          </Button>
        )}
        <Button tone="wall" small type="button" onClick={endWalk}>
          {next ? "Leave it" : "Done"}
        </Button>
      </Flex>
    </Box>
  );
}
