import { Box, Flex } from "@chakra-ui/react";
import type { Mix, Step } from "../../api/client";
import { readable } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { bench, useBench } from "../../store/bench";
import { changeStep, changeValues } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { Choice } from "../../ui/Choice";
import { NumberControl } from "../../ui/Number";
import { Columns } from "./Columns";
import { EvenAmounts } from "./EvenAmounts";
import { Examine } from "./Examine";
import { Keyed } from "./Keyed";

/** How a step is mixed back: by which blend, how much, and its input. `made` is its amount as made. */
export function MixedPage({ step, made }: { step: Step; made: number }) {
  const blends = bench().catalogue?.blends ?? [];
  const steps = useBench((s) => s.look?.steps) ?? [];
  const change = (mix: Partial<Mix>) =>
    changeStep(step.id, (s) => ({ ...s, mix: { ...s.mix, ...mix } }));
  const treatment = treatmentOf(step);
  const otherBlend = step.mix.blend !== treatment?.blend;
  return (
    <Columns>
      <Keyed step={step} names={["mix.blend"]} label="Blend" keyable={false}>
        <Choice
          label="Blend"
          help="How it is laid on the picture below"
          value={step.mix.blend}
          choices={blends.map((b) => ({ value: b, word: b }))}
          onChoose={(word) => {
            const blend = blends.find((b) => b === word);
            if (blend) change({ blend });
          }}
        />
      </Keyed>
      <Keyed step={step} names={["mix.amount"]} label="Amount">
        <NumberControl
          label="Amount"
          help="How much of it is mixed back"
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
      {treatment?.effect && <EvenAmounts step={step} />}
      <Keyed step={step} names={["mix.input"]} label="Input" keyable={false}>
        <Choice
          label="Input"
          help="The picture this step works on"
          value={step.mix.input ?? "previous"}
          choices={[
            { value: "previous", word: "the step before" },
            { value: "footage", word: "the footage" },
            ...readable(steps, step.id).map((s) => ({
              value: s.id,
              word: `after ${stepName(s)} (${s.id})`,
            })),
          ]}
          onChoose={(input) => change({ input })}
        />
      </Keyed>
      <Box color="mute" fontSize="12px" pt="4px">
        {WORDS[step.mix.blend] ?? "Laid over the picture below as it is."}
      </Box>
      {treatment?.has_layer && otherBlend && (
        <Keyed step={step} names={["mix.layer"]} label="Lays" keyable={false}>
          <Choice
            label="Lays"
            help="What this blend lays on the picture below"
            value={step.mix.layer ?? "own"}
            choices={[
              { value: "own", word: "what it adds, alone" },
              { value: "treated", word: "the whole treated picture" },
            ]}
            onChoose={(layer) => change({ layer: layer as Mix["layer"] })}
          />
        </Keyed>
      )}
      {step.mix.blend !== "normal" && (
        <Keyed
          step={step}
          names={["mix.out_of_range"]}
          label="Below black, above white"
          keyable={false}
        >
          <Choice
            label="Below black, above white"
            help="What a blend sees of values below black and above white"
            value={step.mix.out_of_range ?? "limit"}
            choices={[
              { value: "limit", word: "limited to black and white" },
              { value: "keep", word: "kept, and blended as it is" },
            ]}
            onChoose={(limit) => change({ out_of_range: limit as Mix["out_of_range"] })}
          />
        </Keyed>
      )}
      <Flex pt="4px">
        <Examine step={step.id} show="layer">
          See what is laid on the picture below, alone
        </Examine>
      </Flex>
    </Columns>
  );
}

/** What a blend mode does, for who picks by words (W3C Compositing and Blending Level 1). */
const WORDS: Record<string, string> = {
  multiply: "Darkens: white leaves the picture, black makes it black.",
  screen: "Lightens as light does: black leaves the picture, white makes it white.",
  overlay: "Dark parts are multiplied, light ones screened: more contrast, mid-grey leaves it.",
  darken: "The darker of the two, channel by channel.",
  lighten: "The lighter of the two, channel by channel.",
  "colour dodge": "Brightens towards the light of the source; black leaves the picture.",
  "colour burn": "Darkens towards the dark of the source; white leaves the picture.",
  "hard light": "The source's dark parts multiply, its light ones screen.",
  "soft light": "A gentle overlay: dodges and burns a little; mid-grey leaves the picture.",
  difference: "How far the two are apart; the same becomes black.",
  exclusion: "Like difference, softer in the mid-tones.",
  hue: "Its hue, with the picture's saturation and light.",
  saturation: "Its saturation, with the picture's hue and light.",
  colour: "Its hue and saturation, with the picture's light.",
  luminosity: "Its light, with the picture's colour.",
  add: "The two added; black leaves the picture.",
  subtract: "Taken away from the picture; black leaves it.",
  "linear burn": "Added, less one: white leaves the picture.",
  "linear light": "Burns and dodges evenly; mid-grey leaves the picture.",
  divide: "The picture divided by it; white leaves it.",
};
