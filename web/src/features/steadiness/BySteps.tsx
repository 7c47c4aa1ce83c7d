import { Box, Flex } from "@chakra-ui/react";
import type { Look, SteadinessReport } from "../../api/client";
import { stepName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { Thumbnail } from "../../ui/Thumbnail";

const TALL = 56;

/** The path again, with what each step adds to the change of the footage. */
export function BySteps({ look, report }: { look: Look; report: SteadinessReport }) {
  const thumbnails = useBench((s) => s.thumbnails);
  const highest = Math.max(report.most_added, ...Object.values(report.steps).map(Math.abs));
  if (look.steps.length === 0) return null;
  return (
    <Flex as="section" aria-label="By step" gap="16px" mt="16px" align="flex-start">
      <Box width="150px" flex="none">
        <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="20px">
          By step
        </Box>
        <Box color="mute">what each adds to the change from frame to frame</Box>
      </Box>
      <Flex gap="14px" overflowX="auto" pb="4px">
        {look.steps.map((step) => {
          const added = report.steps[step.id] ?? 0;
          const lively = report.lively.includes(step.id);
          return (
            <Box key={step.id} width="98px" flex="none">
              <Thumbnail
                source={thumbnails[step.id]}
                alt={`After ${stepName(step)}`}
                dimmed={!step.on}
              />
              <Flex height={`${TALL}px`} align="flex-end" my="3px">
                <Box
                  width="96px"
                  minH="3px"
                  bg={lively ? "tide" : added > 0 ? "ember" : "mute"}
                  borderRadius="2px"
                  style={{ height: `${(TALL * Math.abs(added)) / highest}px` }}
                />
              </Flex>
              <Box fontWeight="700" truncate>
                {stepName(step)}
              </Box>
              <Box color="mute" fontSize="12px">
                {added >= 0 ? "+" : "−"}
                {(100 * Math.abs(added)).toFixed(3)} %{lively ? ", lively" : ""}
              </Box>
            </Box>
          );
        })}
      </Flex>
    </Flex>
  );
}
