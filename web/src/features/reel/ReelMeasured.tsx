import { Box, Flex } from "@chakra-ui/react";
import type { LookState, Reel } from "../../api/client";
import { findingsOf, type ReelFinding } from "../../model/reelFindings";
import { timecode } from "../../model/timecode";
import { countWords } from "../../model/words";
import { seekReel, useReel } from "../../store/reel";
import { leaveMeasuring, measureReel, useReelMeasuring } from "../../store/reelMeasuring";
import { pauseReel } from "../../store/reelPlayer";
import { Button } from "../../ui/Button";
import { ProgressLine } from "../../ui/ProgressLine";

/** What was found in the reel: flashes, also those that cuts make, and frames that are not steady. */
export function ReelMeasured({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const status = useReelMeasuring((s) => (s.status?.reel === reel.id ? s.status : null));
  const frame = useReel((s) => s.frame);
  if (!status || status.error) return null;
  const rate = reel.rate.numerator / reel.rate.denominator;
  const found = status.report ? findingsOf(status.report, reel.items, looks) : [];
  const here = found.findLast((each) => each.frame <= frame);
  return (
    <Box as="section" aria-label="Steadiness and flashes" bg="paper" px="12px" pt="8px" flex="none">
      {status.report ? (
        <>
          <Flex align="center" gap="10px" mb="6px">
            <Box fontWeight="700">
              {found.length
                ? `${countWords(found.length, "finding")} in ${status.title}`
                : `${status.title} is steady, and nothing flashes too often`}
            </Box>
            <Box flex="1" color="mute">
              {status.revision !== reel.revision
                ? "The reel was changed since"
                : "Cuts are no flicker; flashes across cuts count"}
            </Box>
            <Button small type="button" onClick={() => void measureReel(reel)}>
              Measure again
            </Button>
            <Button small type="button" onClick={() => void leaveMeasuring()}>
              Close
            </Button>
          </Flex>
          {found.length > 0 && (
            <Flex gap="6px" overflowX="auto" pb="6px" role="group" aria-label="What was found">
              {found.map((each) => (
                <Chip key={each.id} found={each} rate={rate} here={each === here} />
              ))}
            </Flex>
          )}
          {status.notes.map((note) => (
            <Box key={note} color="mute" pb="4px">
              {note}
            </Box>
          ))}
          {here && (
            <Box role="status" pb="6px">
              {here.word} {timecode(here.frame, rate)}. {here.says}
            </Box>
          )}
        </>
      ) : (
        <ProgressLine
          {...status}
          says={`Measuring ${status.title}: frame`}
          label="Measuring the reel"
          stop="Nothing of it is kept"
          onStop={() => void leaveMeasuring()}
        />
      )}
    </Box>
  );
}

/** A finding; a click goes there. */
function Chip({ found, rate, here }: { found: ReelFinding; rate: number; here: boolean }) {
  return (
    <Button
      small
      type="button"
      flex="none"
      tone={here ? "here" : "paper"}
      aria-pressed={here}
      onClick={() => {
        pauseReel();
        seekReel(found.frame);
      }}
    >
      {found.word} {timecode(found.frame, rate)}
    </Button>
  );
}
