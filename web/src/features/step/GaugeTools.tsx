import { Flex } from "@chakra-ui/react";
import type { Step } from "../../api/client";
import { belongingsOf } from "../../model/gauges";
import { useBench } from "../../store/bench";
import { addBeside } from "../../store/edits";
import { Button } from "../../ui/Button";

/** What belongs to a grain's film gauge besides it: a click adds it where it stands in the path. */
export function GaugeTools({ step }: { step: Step }) {
  const steps = useBench((s) => s.look?.steps);
  const offered = belongingsOf(step.settings.gauge, steps ?? []);
  if (!offered.length) return null;
  return (
    <Flex align="center" wrap="wrap" gap="5px" pt="4px" color="mute" fontSize="12px">
      {`Belongs to ${step.settings.gauge} mm:`}
      {offered.map(({ word, title, treatment, settings }) => (
        <Button
          key={word}
          small
          height="22px"
          px="7px"
          title={title}
          onClick={() => addBeside(treatment, settings)}
        >
          {word}
        </Button>
      ))}
    </Flex>
  );
}
