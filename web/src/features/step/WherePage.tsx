import { Box, Flex } from "@chakra-ui/react";
import type { Step } from "../../api/client";
import { shapesOf } from "../../model/masks";
import { useBench } from "../../store/bench";
import { changeValues } from "../../store/edits";
import { liftOut } from "../../store/lifting";
import { bringBackFootage, chosenShape } from "../../store/masks";
import { Button } from "../../ui/Button";
import { ToneWindow } from "../../ui/ToneWindow";
import { OverrideScope } from "../fitting/OverrideScope";
import { Examine } from "./Examine";
import { Keyed } from "./Keyed";
import { NewShape, ShapeList } from "./ShapeList";
import { ShapePanel } from "./ShapePanel";

/** Where a step shows: in which shapes, and in which tones of the picture below. */
export function WherePage({ step }: { step: Step }) {
  const id = useBench((s) => s.shape);
  const set = chosenShape(step, id);
  return (
    <Flex gap="22px" pl="14px" wrap="wrap" align="flex-start">
      <Flex direction="column" gap="5px" flex="1 1 290px" maxW="440px" minW="280px">
        <Flex align="center" justify="space-between" minH="24px" gap="4px">
          {shapesOf(step).length === 0 && "Shows everywhere"}
          <Flex gap="3px" wrap="wrap">
            <Button
              small
              type="button"
              height="24px"
              px="7px"
              title="A figure: from strokes on it, its matte is found in every frame"
              onClick={() => liftOut(step)}
            >
              Lift out a figure…
            </Button>
            {shapesOf(step).length > 0 && (
              <Button
                small
                type="button"
                height="24px"
                px="7px"
                title="A step after this one that shows the footage in these shapes, whatever stands before"
                onClick={() => bringBackFootage(step)}
              >
                Bring back the footage here
              </Button>
            )}
            <Examine step={step.id} show="weight">
              See the weight as a picture: white shows fully, black not at all
            </Examine>
          </Flex>
        </Flex>
        <NewShape step={step} />
        {shapesOf(step).length > 0 && (
          <Flex justify="flex-end" my="-4px">
            <OverrideScope step={step} lane="mask" />
          </Flex>
        )}
        <ShapeList step={step} set={set} />
      </Flex>
      {set && (
        <Box flex="1 1 270px" maxW="400px" minW="250px">
          <ShapePanel step={step} shape={set} />
        </Box>
      )}
      <Box flex="0 1 250px" minW="200px">
        <Keyed step={step} names={["mix.tones"]} label="Shows in tones">
          <Box mb="3px" lineHeight="24px">
            Shows in tones
          </Box>
          <ToneWindow
            label="Shows in tones"
            points={step.mix.tones}
            wide={240}
            tall={56}
            onMove={(tones, done) => {
              const open = tones.every(([, w]) => w === 1) && !step.keys?.["mix.tones"]?.length;
              changeValues(step.id, [["mix.tones", open ? null : tones]], done);
            }}
          />
        </Keyed>
        <Box color="mute" fontSize="12px" mt="2px">
          From black to white of the picture below. A click adds a point, a double click takes one
          out.
        </Box>
      </Box>
    </Flex>
  );
}
