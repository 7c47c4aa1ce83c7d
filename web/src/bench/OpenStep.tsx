import { Box, Flex } from "@chakra-ui/react";
import { ArrowLeft, ArrowRight, ChevronUp, Trash2 } from "lucide-react";
import type { Setting, Step } from "../api/client";
import { Choice, Switch } from "../controls/Choice";
import { CurveEditor } from "../controls/CurveEditor";
import { Key } from "../controls/Key";
import { NumberControl } from "../controls/Number";
import { bench, put, titled, treatmentOf, useBench } from "../state/bench";
import { changeStep, moveStep, removeStep } from "../state/edits";
import { Thumbnail } from "./PathRow";
import { applies, choiceWord } from "./summary";

const ROWS = 7;

/** The open step, in its place on the path: its settings, and how it is mixed back. */
export function OpenStep({ step, before }: { step: Step; before: string }) {
  const treatment = treatmentOf(step);
  const thumbnails = useBench((s) => s.thumbnails);
  const steps = useBench((s) => s.look?.steps ?? []);
  const at = steps.findIndex((s) => s.id === step.id);
  if (!treatment) return null;
  const points = treatment.settings.filter((s) => s.unit === "points");
  const rest = treatment.settings.filter((s) => s.unit !== "points" && applies(s, step));
  const columns = Array.from({ length: Math.ceil(rest.length / ROWS) }, (_, i) =>
    rest.slice(i * ROWS, (i + 1) * ROWS),
  );
  return (
    <Flex
      as="section"
      aria-label={`${titled(step.treatment)}, open`}
      direction="column"
      flex="none"
      height="236px"
      bg="paper"
      borderWidth="1px"
      borderColor="ember"
      borderRadius="8px"
      px="13px"
      py="8px"
      data-open-step
    >
      <Flex align="baseline" gap="8px" mb="5px">
        <Box as="span" fontFamily="felt" fontStyle="italic" color="mute">
          {treatment.stage}
        </Box>
        <Box
          as="h2"
          fontFamily="felt"
          fontStyle="italic"
          fontWeight="600"
          fontSize="18px"
          lineHeight="1.1"
        >
          {titled(step.treatment)}
        </Box>
        <Box color="mute" whiteSpace="nowrap">
          {treatment.says}
        </Box>
        <Box flex="1" minW="20px" />
        <Flex align="center" gap="2px" alignSelf="center">
          <Key
            tone="bare"
            small
            type="button"
            disabled={at <= 0}
            aria-label="Move earlier"
            title="Move earlier"
            onClick={() => moveStep(step.id, at - 1)}
          >
            <ArrowLeft size={14} />
          </Key>
          <Key
            tone="bare"
            small
            type="button"
            disabled={at >= steps.length - 1}
            aria-label="Move later"
            title="Move later"
            onClick={() => moveStep(step.id, at + 1)}
          >
            <ArrowRight size={14} />
          </Key>
          <Key
            tone="bare"
            small
            type="button"
            aria-label="Remove step"
            title="Remove step"
            onClick={() => removeStep(step.id)}
          >
            <Trash2 size={14} />
          </Key>
          <Box width="74px">
            <Switch
              label="Step"
              on={step.on}
              onSwitch={(on) => changeStep(step.id, (s) => ({ ...s, on }))}
            />
          </Box>
          <Key
            tone="bare"
            small
            type="button"
            aria-label="Close step"
            title="Close (O)"
            onClick={() => put({ open: null })}
          >
            <ChevronUp size={14} />
          </Key>
        </Flex>
      </Flex>
      <Flex gap="20px" minH="0">
        {points.length > 0 && (
          <CurveEditor
            settings={points}
            values={step.settings as never}
            onMove={(name, value, done) => changeSetting(step, name, value, done)}
          />
        )}
        {columns.map((column) => (
          <Box key={column[0]?.name} width="240px" pt="2px">
            {column.map((setting) => (
              <SettingControl key={setting.name} step={step} setting={setting} />
            ))}
          </Box>
        ))}
        <MixControls step={step} made={treatment.amount} />
        <Box flex="none">
          <Box color="mute" fontSize="12px" mb="3px">
            Before this step, after
          </Box>
          <Flex direction="column" gap="6px">
            <Thumbnail source={thumbnails[before]} says={`Before ${step.treatment}`} />
            <Thumbnail
              source={thumbnails[step.id]}
              says={`After ${step.treatment}`}
              dimmed={!step.on}
            />
          </Flex>
        </Box>
      </Flex>
    </Flex>
  );
}

function changeSetting(step: Step, name: string, value: Step["settings"][string], done: boolean) {
  changeStep(step.id, (s) => ({ ...s, settings: { ...s.settings, [name]: value } }), done);
}

function SettingControl({ step, setting }: { step: Step; setting: Setting }) {
  const value = step.settings[setting.name];
  const change = (given: Step["settings"][string], done = true) =>
    changeSetting(step, setting.name, given, done);
  if (setting.unit === "switch") {
    return (
      <Switch label={setting.label} help={setting.help} on={Boolean(value)} onSwitch={change} />
    );
  }
  if (setting.unit === "choice") {
    const choices = (setting.choices ?? []) as (string | number)[];
    return (
      <Choice
        label={setting.label}
        help={setting.help}
        value={String(value)}
        choices={choices.map((c) => ({ value: String(c), says: choiceWord(setting.name, c) }))}
        onChoose={(word) => change(choices.find((c) => String(c) === word) ?? word)}
      />
    );
  }
  const low = setting.low ?? 0;
  const high = setting.high ?? 1;
  const fine = setting.unit === "px@1080" && high <= 12;
  const whole = setting.unit === "frames" || setting.unit === "seed";
  return (
    <NumberControl
      label={setting.label}
      help={setting.help}
      value={Number(value)}
      initial={Number(setting.default)}
      low={low}
      high={high}
      least={setting.least ?? undefined}
      most={setting.most ?? undefined}
      unit={{ fraction: "%", "px@1080": "px", frames: "fr" }[setting.unit as string] ?? ""}
      scale={setting.unit === "fraction" ? 100 : 1}
      step={fine ? 0.1 : setting.unit === "fraction" && high <= 0.2 ? 0.1 : 1}
      digits={fine || (setting.unit === "fraction" && high <= 0.2) ? 1 : 0}
      whole={whole}
      onMove={change}
    />
  );
}

function MixControls({ step, made }: { step: Step; made: number }) {
  const blends = bench().catalogue?.blends ?? [];
  return (
    <Box width="214px" flex="none">
      <Box color="mute" fontSize="12px" mb="3px">
        Mixed back by
      </Box>
      <Choice
        wide
        label="Blend"
        value={step.mix.blend}
        choices={blends.map((b) => ({ value: b, says: b }))}
        onChoose={(blend) => changeStep(step.id, (s) => ({ ...s, mix: { ...s.mix, blend } }))}
      />
      <Box mt="6px">
        <NumberControl
          label="Amount"
          value={step.mix.amount}
          initial={made}
          low={0}
          high={1}
          least={0}
          most={1}
          unit="%"
          scale={100}
          onMove={(amount, done) =>
            changeStep(step.id, (s) => ({ ...s, mix: { ...s.mix, amount } }), done)
          }
        />
      </Box>
    </Box>
  );
}
