import { Box } from "@chakra-ui/react";
import type { Step } from "../../api/client";
import { useUsed } from "../../store/plates";

/** Why nothing of a step's plate is seen, and what to do. */
export function PlateProblem({ step }: { step: Step }) {
  const problem = useUsed(step)?.problem;
  return problem ? (
    <Box role="alert" color="ember" fontSize="12px" lineHeight="1.25" mt="3px">
      {problem}
    </Box>
  ) : null;
}
