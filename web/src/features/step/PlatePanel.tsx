import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Plate, Points, Step } from "../../api/client";
import { aboutMidGrey, medianOf } from "../../model/plateTones";
import { changeStep } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { usePlates, useUsed } from "../../store/plates";
import { Button } from "../../ui/Button";
import { CurveEditor } from "../../ui/CurveEditor";
import { HistogramPath } from "../../ui/Histogram";
import { KeyMark } from "./Keyed";
import { PlateChoice } from "./PlateChoice";
import { PlateProblem } from "./PlateProblem";
import { PlateStrip, type Spans } from "./PlateStrip";
import type { PanelProps } from "./panels";
import { changeSetting, changeSettings, SettingControl } from "./SettingControl";

const WIDE = 300;
const TALL = 22;
const CURVE_TALL = 170;

const OF_FRAMES = ["loop", "seam"];
const OF_PLACE = ["fit", "scale", "turn", "flip", "place", "align", "reposition_every"];
const OF_TONE = ["colour", "black", "white", "contrast", "invert", "dim_below"];

/** The plate, which of its frames are used, how it lies, and its tones. */
export function PlatePanel({ step, settings }: PanelProps) {
  const file = String(step.settings.file);
  const plate = usePlates()?.find((p) => p.file === file);
  const used = useUsed(step);
  const moving = plate !== undefined && plate.frames > 1;
  const number = (name: string) => Number(step.settings[name]);
  const column = (names: string[]) =>
    settings
      .filter((setting) => names.includes(setting.name))
      .map((setting) => <SettingControl key={setting.name} step={step} setting={setting} />);
  const curve = settings.find(({ name }) => name === "curve");
  const last = plate ? plate.frames - 1 : 0;
  const shuffled = moving && step.settings.loop === "shuffle";
  return (
    <Flex gap="22px" wrap="wrap" pl="14px">
      <Box width={`${WIDE}px`}>
        <PlateChoice value={file} onChoose={(...chosen) => choose(step, ...chosen)} />
        <PlateProblem step={step} />
        {plate && moving && (
          <Box mt="5px">
            <PlateStrip
              file={file}
              frames={plate.frames}
              first={Math.min(number("first"), plate.frames)}
              last={number("last") < 0 ? last : Math.min(number("last"), last)}
              skip={step.settings.exclude as Spans}
              width={WIDE}
              onUse={(span) =>
                changeSettings(step, { first: span?.[0] ?? 0, last: span?.[1] ?? -1 }, true)
              }
              onSkip={(spans) => changeSetting(step, "exclude", spans, true)}
            />
            {column(OF_FRAMES)}
            {shuffled && column(["seed"])}
          </Box>
        )}
        {plate && (
          <Box mt="4px">
            <chakra.svg
              role="img"
              aria-label="How light the plate is, and its black and white points"
              width={`${WIDE}px`}
              height={`${TALL}px`}
              display="block"
            >
              <chakra.rect width={WIDE} height={TALL} fill="sheet" stroke="line" />
              <HistogramPath counts={plate.histogram} channel={0} width={WIDE} height={TALL} />
              {["black", "white"].map((name) => (
                <chakra.line
                  key={name}
                  x1={WIDE * number(name)}
                  x2={WIDE * number(name)}
                  y2={TALL}
                  stroke="ember"
                  strokeDasharray={name === "black" ? undefined : "2 2"}
                />
              ))}
            </chakra.svg>
            <Box color="mute" fontSize="12px" mt="2px">
              {plate.width}×{plate.height}
              {moving && used ? ` · ${used.used} of ${used.frames} frames used` : ""}
              {plate.matte ? " · clear in places" : ""}
              {plate.premultiplied ? ", premultiplied" : ""}
            </Box>
            <Button
              small
              height="22px"
              px="7px"
              mt="3px"
              title="Black and white points that make its middle tone mid-grey, for overlay and soft light"
              onClick={() =>
                changeSettings(
                  step,
                  aboutMidGrey(
                    medianOf(plate.histogram[0] ?? []),
                    number("black"),
                    number("white"),
                  ),
                  true,
                )
              }
            >
              Base to mid-grey
            </Button>
          </Box>
        )}
      </Box>
      <Box flex="1 0 282px" maxW="380px" pt="2px">
        {column(OF_PLACE)}
        {!shuffled && number("reposition_every") > 0 && column(["seed"])}
        {moving && column(["speed"])}
      </Box>
      <Box flex="1 0 282px" maxW="380px" pt="2px">
        {column(OF_TONE)}
        {plate?.matte && column(["alpha"])}
        {number("dim_below") > 0 && (
          <Box color="mute" fontSize="12px">
            {costs(number("dim_below") * (step.mix?.amount ?? 1))}
          </Box>
        )}
      </Box>
      {curve && (
        <CurveEditor
          settings={[curve]}
          values={step.settings as Record<string, Points>}
          counts={plate?.histogram}
          tall={CURVE_TALL}
          mark={(name, label) => <KeyMark step={step} names={[name]} label={label} />}
          onMove={(name, points, done) => changeSetting(step, name, points, done)}
        />
      )}
    </Flex>
  );
}

/** Lay a plate; one that is clear in places covers what is below, unless that was set else. */
function choose(step: Step, file: string, plate: Plate | undefined, shuffles?: boolean) {
  const made = treatmentOf(step);
  const { blend = made?.blend, amount = made?.amount } = step.mix ?? {};
  const asMade = blend === made?.blend && amount === made?.amount;
  changeStep(step.id, (now) => ({
    ...now,
    settings: { ...now.settings, file, ...(shuffles && { loop: "shuffle" }) },
    mix: plate?.matte && asMade ? { ...now.mix, blend: "normal", amount: 1 } : now.mix,
  }));
}

/** What dimming costs: values of a display as of BT.1886 go with the 2.4th root of light. */
const costs = (dimmed: number) =>
  `costs the picture ${(-2.4 * Math.log2(Math.max(1 - dimmed, 0.01))).toFixed(1)} stops of its light`;
