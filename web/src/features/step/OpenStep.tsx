import { Box, Flex } from "@chakra-ui/react";
import { ArrowLeft, ArrowRight, ChevronUp, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Setting, Step } from "../../api/client";
import { isBundle, rowOf } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { applies } from "../../model/stepSummary";
import { setState, useBench } from "../../store/bench";
import { markBurst } from "../../store/burstMarking";
import { changeStep, moveStep, removeStep } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { useAtFrame } from "../../store/values";
import { Button } from "../../ui/Button";
import { Switch } from "../../ui/Choice";
import { Thumbnail } from "../../ui/Thumbnail";
import { BundlePanel } from "./BundlePanel";
import { MixControls } from "./MixControls";
import { PANELS } from "./panels";
import { SetFromClip } from "./SetFromClip";
import { rowsOf, SettingControl } from "./SettingControl";

const ROWS = 7;

/** Settings in columns of at most `ROWS` rows, as even as can be. */
function inColumns(settings: Setting[]): Setting[][] {
  const total = settings.reduce((sum, s) => sum + rowsOf(s), 0);
  const most = Math.ceil(total / Math.ceil(total / ROWS));
  const columns: Setting[][] = [];
  let used = ROWS;
  for (const setting of settings) {
    if (used + rowsOf(setting) > Math.max(most, rowsOf(setting))) {
      columns.push([]);
      used = 0;
    }
    columns.at(-1)?.push(setting);
    used += rowsOf(setting);
  }
  return columns;
}

/** Pressed while the clip plays, it is a burst; tapped, a short one. */
function BurstKey() {
  const marking = useBench((s) => s.marking) !== null;
  return (
    <Button
      small
      tone={marking ? "here" : "paper"}
      type="button"
      height="22px"
      px="7px"
      mr="8px"
      aria-pressed={marking}
      title="Tap it while the clip plays, or hold it: the step is active then (U)"
      style={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        markBurst(true);
      }}
      onPointerUp={() => markBurst(false)}
      onPointerCancel={() => setState({ marking: null })}
      onClick={(event) => {
        if (event.detail > 0) return; // pressed by pointer: done
        markBurst(true);
        markBurst(false);
      }}
    >
      Tap a burst
    </Button>
  );
}

/** What of the step changes with time, in a few words. */
function OverTime({ step }: { step: Step }) {
  const keyed = Object.keys(step.keys ?? {}).length;
  const bursts = step.bursts?.length ?? 0;
  return (
    <Box color="mute" fontSize="12px" mt="6px" lineHeight="1.3">
      <Box>Over time</Box>
      <Box color={keyed ? "tide" : "mute"}>{keyed ? `${keyed} keyed` : "no keys"}</Box>
      <Box color={bursts ? "ember" : "mute"}>
        {bursts ? `${bursts} ${bursts === 1 ? "burst" : "bursts"}` : "always on"}
      </Box>
    </Box>
  );
}

/** The open step, in its place on the path: its settings, and how it is mixed back. */
export function OpenStep({ step: written, before }: { step: Step; before: string }) {
  const step = useAtFrame(written);
  const treatment = treatmentOf(step);
  const thumbnails = useBench((s) => s.thumbnails);
  const row = rowOf(useBench((s) => s.look?.steps) ?? [], step.id);
  const at = row.findIndex((s) => s.id === step.id);
  const name = stepName(step);
  const settings = treatment?.settings.filter((s) => applies(s, step)) ?? [];
  const Panel = PANELS[step.treatment];
  const panel = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: also when it has moved in its row
  useEffect(() => {
    panel.current?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [step.id, at]);
  return (
    <Flex
      ref={panel}
      as="section"
      aria-label={`${name}, open`}
      direction="column"
      flex="none"
      height="236px"
      bg="paper"
      borderWidth="1px"
      borderColor="ember"
      borderRadius="8px"
      px="17px"
      py="8px"
      data-open-step
    >
      <Flex align="baseline" gap="8px" mb="5px">
        <Box as="span" fontFamily="felt" fontStyle="italic" color="mute">
          {treatment?.stage ?? "several"}
        </Box>
        <Box
          as="h2"
          fontFamily="felt"
          fontStyle="italic"
          fontWeight="600"
          fontSize="18px"
          lineHeight="1.1"
        >
          {name}
        </Box>
        <Box color="mute" whiteSpace="nowrap">
          {treatment?.summary ?? "steps mixed back as one"}
        </Box>
        {treatment?.fits_clip && (
          <Box alignSelf="center" ml="8px">
            <SetFromClip step={step} />
          </Box>
        )}
        <Box flex="1" minW="20px" />
        <Flex align="center" gap="2px" alignSelf="center">
          <BurstKey />
          <Button
            tone="bare"
            small
            type="button"
            disabled={at <= 0}
            aria-label="Move earlier"
            title="Move earlier"
            onClick={() => moveStep(step.id, at - 1)}
          >
            <ArrowLeft size={14} />
          </Button>
          <Button
            tone="bare"
            small
            type="button"
            disabled={at >= row.length - 1}
            aria-label="Move later"
            title="Move later"
            onClick={() => moveStep(step.id, at + 1)}
          >
            <ArrowRight size={14} />
          </Button>
          <Button
            tone="bare"
            small
            type="button"
            aria-label="Remove step"
            title="Remove step"
            onClick={() => removeStep(step.id)}
          >
            <Trash2 size={14} />
          </Button>
          <Box width="74px">
            <Switch
              label="Step"
              on={step.on}
              onSwitch={(on) => changeStep(step.id, (s) => ({ ...s, on }))}
            />
          </Box>
          <Button
            tone="bare"
            small
            type="button"
            aria-label="Close step"
            title="Close (O)"
            onClick={() => setState({ open: null })}
          >
            <ChevronUp size={14} />
          </Button>
        </Flex>
      </Flex>
      <Flex gap="14px" minH="0">
        {isBundle(step) && <BundlePanel step={step} />}
        {Panel && <Panel step={step} settings={settings} />}
        {!Panel &&
          inColumns(settings).map((column) => (
            <Box
              key={column[0]?.name}
              width={column[0]?.unit === "ramp" ? "330px" : "240px"}
              pt="2px"
            >
              {column.map((setting) => (
                <SettingControl key={setting.name} step={step} setting={setting} />
              ))}
            </Box>
          ))}
        <MixControls step={step} made={treatment?.amount ?? 1} />
        <Box flex="none">
          <Box color="mute" fontSize="12px" mb="3px">
            Before, after
          </Box>
          <Flex direction="column" gap="6px">
            <Thumbnail source={thumbnails[before]} alt={`Before ${name}`} />
            <Thumbnail source={thumbnails[step.id]} alt={`After ${name}`} dimmed={!step.on} />
          </Flex>
          <OverTime step={step} />
        </Box>
      </Flex>
    </Flex>
  );
}
