import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Mix, Step } from "../../api/client";
import { readable } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { bench, setState, useBench } from "../../store/bench";
import { changeStep, changeValues } from "../../store/edits";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { NumberControl } from "../../ui/Number";
import { ToneWindow } from "../../ui/ToneWindow";
import { Keyed } from "./Keyed";

const Select = chakra("select");

/** How a step's result is laid back: blend, amount, tones, and what the step reads. */
export function MixControls({ step, made }: { step: Step; made: number }) {
  const blends = bench().catalogue?.blends ?? [];
  const steps = useBench((s) => s.look?.steps ?? []);
  const weighed = useBench((s) => s.weighed === step.id);
  const change = (mix: Partial<Mix>) =>
    changeStep(step.id, (s) => ({ ...s, mix: { ...s.mix, ...mix } }));
  return (
    <Box width="236px" flex="none">
      <Flex justify="space-between" align="center" gap="6px" mb="4px">
        <Box color="mute" fontSize="12px" whiteSpace="nowrap">
          Mixed back by
        </Box>
        <Choice
          wide
          label="Blend"
          value={step.mix.blend}
          choices={blends.map((b) => ({ value: b, word: b }))}
          onChoose={(blend) => change({ blend })}
        />
      </Flex>
      <Keyed step={step} names={["mix.amount"]} label="Amount">
        <NumberControl
          label="Amount"
          value={step.mix.amount}
          initial={made}
          softMinimum={0}
          softMaximum={1}
          minimum={0}
          maximum={1}
          unit="%"
          scale={100}
          onMove={(amount, done) => changeValues(step.id, [["mix.amount", amount]], done)}
        />
      </Keyed>
      <Flex align="center" justify="space-between" mt="2px">
        <Box color="mute" fontSize="12px">
          Shows in tones
        </Box>
        <Button
          small
          tone={weighed ? "here" : "bare"}
          type="button"
          height="24px"
          aria-pressed={weighed}
          title="See the weight as a picture: white shows fully, black not at all"
          onClick={() => setState({ weighed: weighed ? null : step.id })}
        >
          See weight
        </Button>
      </Flex>
      <Keyed step={step} names={["mix.tones"]} label="Shows in tones">
        <ToneWindow
          label="Shows in tones"
          points={step.mix.tones}
          onMove={(tones, done) => {
            const open = tones.every(([, w]) => w === 1) && !step.keys?.["mix.tones"]?.length;
            changeValues(step.id, [["mix.tones", open ? null : tones]], done);
          }}
        />
      </Keyed>
      <Flex align="center" justify="space-between" gap="8px" mt="3px">
        <Box color="mute" fontSize="12px">
          Reads
        </Box>
        <Select
          aria-label="Reads"
          title="The picture this step works on"
          value={step.mix.reads ?? "so far"}
          onChange={(event) => change({ reads: event.target.value })}
          height="24px"
          width="178px"
          fontSize="12px"
          px="5px"
          bg="sheet"
          borderWidth="1px"
          borderColor="line"
          borderRadius="5px"
        >
          <option value="so far">the picture so far</option>
          <option value="as shot">the footage as shot</option>
          {readable(steps, step.id).map((s) => (
            <option key={s.id} value={s.id}>
              after {stepName(s)} ({s.id})
            </option>
          ))}
        </Select>
      </Flex>
    </Box>
  );
}
