import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { duration } from "../../model/duration";
import { Key } from "../../ui/Button";
import { useBench } from "../../store/bench";
import { useSteadiness } from "../../store/steadiness";
import { BySteps } from "./BySteps";
import { type Found, foundIn } from "../../model/steadinessFindings";
import { Said } from "./Finding";
import { Strip } from "./Strip";
import { Trace } from "./Trace";

/** Steadiness: how the look on the bench holds in motion, and whether it flashes. */
export function Steadiness() {
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const steadiness = useSteadiness(clip, look);
  const [at, setAt] = useState(0);
  const told = steadiness.data;
  const report = told?.report ?? null;
  const found: Found[] = report ? foundIn(report) : [];
  const chosen = found[Math.min(at, found.length - 1)];
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was found anew begins anew
  useEffect(() => setAt(0), [report]);
  if (!clip || !look)
    return (
      <Box p="24px">Drop a clip anywhere on the page; how its look holds is measured here.</Box>
    );
  const frame = chosen?.frame ?? Math.min(useBench.getState().frame, clip.frames - 1);
  return (
    <Flex direction="column" flex="1" minH="0" overflowY="auto">
      <Box className="on-wall" bg="wall" color="wallInk" px="20px" py="14px" flex="none">
        <Strip clip={clip} look={look} frame={frame} flagged={chosen !== undefined} />
        <Said
          clip={clip}
          look={look}
          told={told ?? null}
          problem={steadiness.error?.message ?? told?.error ?? null}
          found={chosen ?? null}
        />
        {found.length > 1 && (
          <Flex role="group" aria-label="What was found" gap="5px" mt="10px" wrap="wrap">
            {found.slice(0, 24).map((each, i) => (
              <Key
                key={each.id}
                small
                type="button"
                tone={each === chosen ? "wallOn" : "wall"}
                aria-pressed={each === chosen}
                onClick={() => setAt(i)}
              >
                {each.word} {each.frame}
              </Key>
            ))}
          </Flex>
        )}
      </Box>
      <Box px="20px" py="14px" bg="desk" flex="1">
        {report ? (
          <>
            <Trace
              clip={clip}
              report={report}
              frame={frame}
              onFlag={(flagged) => setAt(found.findIndex((f) => f.frame === flagged))}
            />
            <BySteps look={look} report={report} />
          </>
        ) : (
          told &&
          !told.error && (
            <Box maxW="420px">
              <Box role="status">
                Looking through {clip.name}: frame {told.done} of {told.total}
                {told.rate ? ` · ${told.rate.toFixed(1)} frames/s` : ""}
                {told.rate ? ` · ${duration((told.total - told.done) / told.rate)} left` : ""}
              </Box>
              <Box
                role="progressbar"
                aria-label="Looking through the clip"
                aria-valuenow={told.done}
                aria-valuemin={0}
                aria-valuemax={told.total}
                height="6px"
                borderRadius="3px"
                bg="line"
                mt="6px"
                overflow="hidden"
              >
                <Box
                  height="100%"
                  bg="tide"
                  style={{ width: `${(100 * told.done) / Math.max(told.total, 1)}%` }}
                />
              </Box>
            </Box>
          )
        )}
      </Box>
    </Flex>
  );
}
