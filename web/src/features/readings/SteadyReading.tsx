import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { percent } from "../../model/steadinessFindings";
import { countWords } from "../../model/words";
import { useBench } from "../../store/bench";
import { knownSteadiness } from "../../store/steadiness";
import { useRested } from "../../ui/useRested";

/** What is known of a changed look is asked for once its picture has come. */
const REST_MS = 300;

const WIDE = 276;
const TALL = 34;

/** How steady the look is, as far as is known: small, beside the other readings. */
export function SteadyReading() {
  const clip = useBench((s) => s.clip);
  const look = useRested(
    useBench((s) => (s.moving ? null : s.look)),
    REST_MS,
  );
  const frame = useBench((s) => (s.playing ? null : s.frame));
  const { data } = useQuery(knownSteadiness(clip, look));
  const report = data?.report;
  const count = report ? report.flags.length + report.flashes.length : 0;
  const steady = report?.change_footage.map((c, i) => c + (report.added_steady[i] ?? 0)) ?? [];
  const footage = report?.change_footage ?? [];
  const top = Math.max(0.004, ...steady, ...footage) * 1.1;
  const line = (values: number[]) =>
    values
      .map(
        (v, i) => `${i ? "L" : "M"}${((i + 0.5) / values.length) * WIDE} ${TALL * (1 - v / top)}`,
      )
      .join(" ");
  return (
    <Box>
      <Flex justify="space-between" mb="3px">
        <Box>Frame to frame</Box>
        <a href="#steadiness">
          <Box as="span" color="wallMute" textDecoration="underline">
            {report ? (count ? countWords(count, "flag") : "steady") : "not measured yet"}
          </Box>
        </a>
      </Flex>
      {report && (
        <>
          <chakra.svg
            viewBox={`0 0 ${WIDE} ${TALL}`}
            width="100%"
            height={`${TALL}px`}
            bg="#2b2b2b"
            borderRadius="3px"
            role="img"
            aria-label={`The steady part adds ${percent(mean(report.added_steady))} on average`}
          >
            <path d={line(footage)} fill="none" stroke="#9a9a98" strokeWidth="1" />
            <path d={line(steady)} fill="none" stroke="#ececE8" strokeWidth="1.4" />
            {report.flags.map((flag) => (
              <circle
                key={flag.frame}
                cx={((flag.frame + 0.5) / steady.length) * WIDE}
                cy="6"
                r="3.5"
                fill="none"
                stroke="#ececE8"
                strokeWidth="1.6"
              />
            ))}
            {frame !== null && (
              <line
                x1={((frame + 0.5) / Math.max(steady.length, 1)) * WIDE}
                x2={((frame + 0.5) / Math.max(steady.length, 1)) * WIDE}
                y2={TALL}
                stroke="#ececE8"
                strokeWidth="0.8"
              />
            )}
          </chakra.svg>
          <Box color="wallMute" fontSize="12px">
            steady part adds {percent(mean(report.added_steady), 3)}; footage{" "}
            {percent(mean(footage), 3)}
          </Box>
        </>
      )}
    </Box>
  );
}

const mean = (values: number[]) =>
  values.length ? values.reduce((a, b) => a + b, 0) / values.length : 0;
