import { Box, Flex } from "@chakra-ui/react";
import { putFailedAway, type Question, useArrivals } from "../store/arrivals";
import { Button } from "../ui/Button";

/** Files on their way in, what is to be decided about them, and what could not be taken. */
export function Arriving() {
  const { arriving, failed, questions } = useArrivals();
  if (!arriving.length && !failed.length && !questions.length) return null;
  return (
    <Flex
      direction="column"
      gap="8px"
      position="absolute"
      left="124px"
      top="54px"
      maxH="60%"
      overflowY="auto"
      bg="paper"
      color="ink"
      borderRadius="6px"
      boxShadow="0 1px 6px rgb(0 0 0 / 30%)"
      p="10px"
      zIndex="6"
      width="380px"
    >
      {questions.map((question) => (
        <Asked key={question.stills.map((file) => file.name).join("/")} {...question} />
      ))}
      {arriving.length > 0 && (
        <Box role="status">
          <Flex as="ul" direction="column" gap="6px" listStyleType="none">
            {arriving.map(({ name, doing, part, stop }) => (
              <Flex as="li" key={`${doing} ${name}`} align="center" gap="8px">
                <Box flex="1" minW="0">
                  <Box overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
                    {doing === "Bringing in" && part >= 1
                      ? `Looking through ${name}`
                      : `${doing} ${name}: ${Math.round(part * 100)} %`}
                  </Box>
                  <Box height="4px" bg="line" borderRadius="2px" mt="4px">
                    <Box
                      height="100%"
                      bg="tide"
                      borderRadius="2px"
                      style={{ width: `${part * 100}%` }}
                    />
                  </Box>
                </Box>
                {stop && (
                  <Button small type="button" aria-label={`Stop ${name}`} onClick={stop}>
                    Stop
                  </Button>
                )}
              </Flex>
            ))}
          </Flex>
        </Box>
      )}
      {failed.length > 0 && <Failed failed={failed} />}
    </Flex>
  );
}

/** Several stills: both ways are at hand. */
function Asked({ name, stills, answer }: Question) {
  const few = stills.slice(0, 3).map((file) => file.name);
  return (
    <Box role="group" aria-label="What these stills are">
      <Box>
        {stills.length} stills: {few.join(", ")}
        {stills.length > few.length ? ", …" : ""}
      </Box>
      <Flex gap="6px" mt="6px" wrap="wrap">
        {name && (
          <Button small type="button" onClick={() => answer("clip")}>
            One clip of {stills.length} frames
          </Button>
        )}
        <Button small type="button" onClick={() => answer("plates")}>
          {stills.length} plates
        </Button>
        <Button small tone="bare" type="button" onClick={() => answer(null)}>
          Neither
        </Button>
      </Flex>
    </Box>
  );
}

const ACCEPTED =
  "Clips are what FFmpeg's libraries decode; numbered PNG, TIFF or OpenEXR stills; pictures for " +
  "plates as PNG, JPEG or TIFF; looks as .json; tables as .cube or .clf; grain as .grain; grades as .cc, .ccc or .cdl.";

/** What could not be taken, each with its reason, until it is put away. */
function Failed({ failed }: { failed: { name: string; why: string }[] }) {
  return (
    <Box role="alert" borderLeftWidth="4px" borderColor="ember" pl="9px">
      <Flex justify="space-between" align="baseline" gap="8px">
        <Box fontWeight="700">Not taken</Box>
        <Button small type="button" onClick={putFailedAway}>
          Close
        </Button>
      </Flex>
      <Box as="ul" listStyleType="none" overflowWrap="anywhere">
        {failed.map(({ name, why }, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same file may be refused twice
          <Box as="li" key={place} mt="3px">
            {why.startsWith(name) ? why : `${name}: ${why}`}
          </Box>
        ))}
      </Box>
      <Box color="mute" fontSize="12px" mt="5px">
        {ACCEPTED}
      </Box>
    </Box>
  );
}
