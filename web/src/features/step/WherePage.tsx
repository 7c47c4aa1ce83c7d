import { Box, Flex } from "@chakra-ui/react";
import type { Step } from "../../api/client";
import { changeValues } from "../../store/edits";
import { ToneWindow } from "../../ui/ToneWindow";
import { Examine } from "./Examine";
import { Keyed } from "./Keyed";

/** Where a step shows: in which tones of the picture below. */
export function WherePage({ step }: { step: Step }) {
  return (
    <Flex gap="24px" pl="14px">
      <Keyed step={step} names={["mix.tones"]} label="Shows in tones">
        <Flex align="center" justify="space-between" mb="3px">
          Shows in tones
          <Examine step={step.id} show="weight">
            See the weight as a picture: white shows fully, black not at all
          </Examine>
        </Flex>
        <ToneWindow
          label="Shows in tones"
          points={step.mix.tones}
          wide={320}
          tall={64}
          onMove={(tones, done) => {
            const open = tones.every(([, w]) => w === 1) && !step.keys?.["mix.tones"]?.length;
            changeValues(step.id, [["mix.tones", open ? null : tones]], done);
          }}
        />
      </Keyed>
      <Box color="mute" maxW="300px" fontSize="12px">
        From black at the left to white at the right of the picture below: the line says how
        strongly the step shows there. A click adds a point, a double click takes one out.
      </Box>
    </Flex>
  );
}
