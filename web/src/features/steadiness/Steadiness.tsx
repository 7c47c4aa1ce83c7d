import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { type Found, findingsIn } from "../../model/steadinessFindings";
import { useBench } from "../../store/bench";
import { useSteadiness } from "../../store/steadiness";
import { Button } from "../../ui/Button";
import { BySteps } from "./BySteps";
import { FindingPanel } from "./Finding";
import { Looking } from "./Looking";
import { Strip } from "./Strip";
import { Trace } from "./Trace";

/** Steadiness: how the look on the bench holds in motion, and whether it flashes. */
export function Steadiness() {
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const steadiness = useSteadiness(clip, look);
  const [at, setAt] = useState(0);
  const status = steadiness.data;
  const report = status?.report ?? null;
  const found: Found[] = report ? findingsIn(report) : [];
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
        <Strip
          clip={clip}
          look={look}
          frame={frame}
          change={(report?.change_footage[frame] ?? 0) + (report?.added[frame] ?? 0)}
          flagged={chosen !== undefined}
        />
        <FindingPanel
          clip={clip}
          look={look}
          status={status ?? null}
          problem={steadiness.error?.message ?? status?.error ?? null}
          found={chosen ?? null}
        />
        {found.length > 1 && (
          <Flex role="group" aria-label="What was found" gap="5px" mt="10px" wrap="wrap">
            {found.slice(0, 24).map((each, i) => (
              <Button
                key={each.id}
                small
                type="button"
                tone={each === chosen ? "wallOn" : "wall"}
                aria-pressed={each === chosen}
                onClick={() => setAt(i)}
              >
                {each.word} {each.frame}
              </Button>
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
          status && !status.error && <Looking status={status} clip={clip} look={look} />
        )}
      </Box>
    </Flex>
  );
}
