import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Clip, Look, SteadinessStatus, Step } from "../../api/client";
import { findStep, withStep } from "../../model/lookTree";
import { type Found, percent } from "../../model/steadinessFindings";
import { stepName } from "../../model/stepNames";
import { timecode } from "../../model/timecode";
import { setState } from "../../store/bench";
import { changeStep } from "../../store/edits";
import { goTo } from "../../store/playRange";
import { steadyFrame } from "../../store/steadiness";
import { Button } from "../../ui/Button";

interface Props {
  clip: Clip;
  look: Look;
  status: SteadinessStatus | null;
  problem: string | null;
  found: Found | null;
}

/** What happened at the frame, which step did it, and what would mend it. */
export function FindingPanel({ clip, look, status, problem, found }: Props) {
  const report = status?.report;
  const step = found?.step ? findStep(look.steps, found.step) : undefined;
  return (
    <Flex mt="12px" gap="12px" align="center" minH="32px" fontSize="15px" wrap="wrap" role="status">
      {problem && <Box>{problem}</Box>}
      {!problem && !report && (
        <Box>
          {status?.stopped
            ? "It is not measured; this frame is shown until it is."
            : "It is being measured; this frame is shown meanwhile."}
        </Box>
      )}
      {report && !found && (
        <Box>
          Steady: no frame is flagged, and nothing flashes too often.{" "}
          {report.lively.length > 0 && "Lively steps change every frame, as they are meant to."}
        </Box>
      )}
      {report && found && <Sentence clip={clip} look={look} found={found} step={step} />}
      {found && (
        <Button
          small
          tone="wall"
          type="button"
          onClick={() => {
            goTo(found.frame);
            if (found.step) setState({ open: found.step });
            window.location.hash = "bench";
          }}
        >
          Show on the Bench
        </Button>
      )}
      {step && found && found.kind !== "flashes" && (
        <Mend clip={clip} look={look} step={step} found={found} />
      )}
    </Flex>
  );
}

function Sentence({
  clip,
  look,
  found,
  step,
}: {
  clip: Clip;
  look: Look;
  found: Found;
  step?: Step;
}) {
  const when = timecode(found.frame, clip.rate);
  const name = step ? <b>{stepName(step)}</b> : "The footage";
  if (found.fault) {
    const { fault } = found;
    return (
      <Box>
        From {when} on, {(fault.to - fault.from + 1) / clip.rate >= 1 ? "for " : "for only "}
        {fault.seconds.toFixed(1)} s, {percent(fault.area, 0)} of the picture{" "}
        {fault.kind === "red" ? "flashes red" : "flashes"} {fault.count} times in a second; three
        are safe. {name} {step ? "causes it" : "has it as shot"}
        {look.steps.length > 0 && !step ? ", before any step" : ""}.
      </Box>
    );
  }
  if (found.kind === "jump")
    return (
      <Box>
        At {when} the picture {found.value > 0 ? "lifts" : "drops"} by{" "}
        {percent(Math.abs(found.value))} from one frame to the next. {name} causes it.
      </Box>
    );
  return (
    <Box>
      At {when} change of {percent(found.value)} is added to what the footage has. {name} adds most.
    </Box>
  );
}

/** Frames more on each side over which a step is settled, to mend a jump. */
const MORE = 2;

/** Offers to settle the step over more frames, and says what that would bring. */
function Mend({ clip, look, step, found }: { clip: Clip; look: Look; step: Step; found: Found }) {
  const settle = step.settings.temporal_smoothing;
  const wanted = Math.min(Number(settle) + MORE, 6);
  const mendStep = (s: Step): Step => ({
    ...s,
    settings: { ...s.settings, temporal_smoothing: wanted },
  });
  const able =
    typeof settle === "number" && wanted > settle && !step.keys?.temporal_smoothing?.length;
  const { data } = useQuery({
    queryKey: ["mended", clip.id, look.steps, step.id, found.frame],
    enabled: able,
    queryFn: () =>
      steadyFrame(clip, { ...look, steps: withStep(look.steps, step.id, mendStep) }, found.frame),
  });
  if (!able || !data) return null;
  const then = Math.abs(found.kind === "jump" ? data.jump : data.added_steady);
  if (then > 0.9 * Math.abs(found.value)) return null;
  return (
    <>
      <Box>
        Settling it over {wanted} frames would take it to {percent(then)}.
      </Box>
      <Button tone="wallOn" type="button" onClick={() => changeStep(step.id, mendStep)}>
        Settle {stepName(step)} over {wanted} frames
      </Button>
    </>
  );
}
