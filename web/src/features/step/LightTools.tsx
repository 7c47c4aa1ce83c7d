import { Flex } from "@chakra-ui/react";
import type { Step } from "../../api/client";
import { formatFixed } from "../../model/words";
import { useHeldLight } from "../../store/readings";
import { Examine } from "./Examine";

/** Of a step whose light is from the highlights: which those are, and how much light it holds. */
export function LightTools({ step }: { step: Step }) {
  return (
    <Flex align="center" gap="10px" pt="4px" minH="28px">
      <Examine step={step.id} show="highlights">
        See the highlights that its light is from, as it takes them (H)
      </Examine>
      {Number(step.settings.keep_midtones ?? 0) > 0 && <Held step={step} />}
    </Flex>
  );
}

function Held({ step }: { step: Step }) {
  const held = useHeldLight(step);
  if (held === undefined) return null;
  const taken = 100 * held * (step.mix?.amount ?? 1);
  return (
    <Flex color="mute" fontSize="12px">
      {taken < 0.05
        ? "Keep mid-tones takes nothing here"
        : `Keep mid-tones takes ${formatFixed(taken, 1)} % of white from mid-grey`}
    </Flex>
  );
}
