import { Box, chakra, Flex } from "@chakra-ui/react";
import { Pipette } from "lucide-react";
import { type FunctionComponent, type PointerEvent, useRef, useState } from "react";
import type { Points, Setting, Step, Value } from "../../api/client";
import { inputOf } from "../../model/stepInput";
import { setState } from "../../store/bench";
import { benchSteps } from "../../store/look";
import { useReadings } from "../../store/readings";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { CurveEditor } from "../../ui/CurveEditor";
import { HistogramPath } from "../../ui/Histogram";
import { HueDisc } from "../../ui/HueDisc";
import { NumberControl } from "../../ui/Number";
import { CdlFile } from "./CdlFile";
import { Columns } from "./Columns";
import { Keyed, KeyMark } from "./Keyed";
import { PlatePanel } from "./PlatePanel";
import { usePageHeight } from "./pageHeight";
import { changeSetting, changeSettings, SettingControl } from "./SettingControl";
import { SplitPanel } from "./SplitPanel";

export interface PanelProps {
  step: Step;
  settings: Setting[];
}

/** The controls of treatments that want more than a column of numbers. */
export const PANELS: Record<string, FunctionComponent<PanelProps>> = {
  curve: CurvePanel,
  levels: LevelsPanel,
  balance: BalancePanel,
  hue: HuePanel,
  mono: MonoPanel,
  plate: PlatePanel,
  split: SplitPanel,
};

function CurvePanel({ step, settings }: PanelProps) {
  const tall = usePageHeight() - 4;
  const readings = useReadings(inputOf(step.id, benchSteps()));
  return (
    <CurveEditor
      settings={settings}
      values={step.settings as Record<string, Points>}
      counts={readings?.histogram}
      tall={tall}
      mark={(name, label) => <KeyMark step={step} names={[name]} label={label} />}
      onMove={(name, value, done) => changeSetting(step, name, value, done)}
    />
  );
}

const WIDE = 300;

/** The histogram of what comes in; black, mid-tone and white are lines dragged in it. */
function LevelsPanel({ step, settings }: PanelProps) {
  const readings = useReadings(inputOf(step.id, benchSteps()));
  const drawing = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<string | null>(null);
  const number = (name: string) => Number(step.settings[name]);
  const [black, gamma, white] = [number("black"), number("gamma"), number("white")];
  const middle = black + (white - black) * 0.5 ** gamma;
  const move = (name: string, event: PointerEvent, done: boolean) => {
    const rect = drawing.current?.getBoundingClientRect();
    if (!rect) return;
    const x = Math.min(Math.max((event.clientX - rect.left - 8) / WIDE, 0), 1);
    const rounded = Math.round(x * 1000) / 1000;
    if (name === "black") changeSetting(step, name, Math.min(rounded, white - 0.01), done);
    else if (name === "white") changeSetting(step, name, Math.max(rounded, black + 0.01), done);
    else {
      const t = Math.min(Math.max((x - black) / (white - black), 0.031), 0.87);
      changeSetting(step, "gamma", Math.round((Math.log(t) / Math.log(0.5)) * 100) / 100, done);
    }
  };
  const letGo = (event: PointerEvent) => {
    if (held) move(held, event, true);
    setHeld(null);
  };
  const tall = Math.min(usePageHeight() - 10, 200);
  const handles: [string, number, string][] = [
    ["black", black, "black"],
    ["gamma", middle, "mid-tone"],
    ["white", white, "white"],
  ];
  return (
    <Flex gap="14px">
      <Box>
        <chakra.svg
          ref={drawing}
          role="img"
          aria-label="Histogram of what comes in"
          width={`${WIDE + 16}px`}
          height={`${tall + 4}px`}
          style={{ touchAction: "none", userSelect: "none" }}
          onMouseDown={(event) => event.preventDefault()}
          onPointerMove={(event) => held && move(held, event, false)}
          onPointerUp={letGo}
          onPointerCancel={letGo}
        >
          <g transform="translate(8 2)">
            <chakra.rect width={WIDE} height={tall} fill="sheet" stroke="line" />
            {[1, 2, 3, 0].map((channel) => (
              <HistogramPath
                key={channel}
                counts={readings?.histogram}
                channel={channel}
                width={WIDE}
                height={tall}
              />
            ))}
            {handles.map(([name, x, word]) => (
              <g
                key={name}
                transform={`translate(${x * WIDE} 0)`}
                onPointerDown={(event) => {
                  drawing.current?.setPointerCapture(event.pointerId);
                  setHeld(name);
                }}
                style={{ cursor: "ew-resize" }}
              >
                <rect x="-8" width="16" height={tall} fill="transparent" />
                <chakra.line
                  y2={tall}
                  stroke="ember"
                  strokeWidth={held === name ? 3 : 2}
                  strokeDasharray={name === "gamma" ? "5 4" : undefined}
                />
                <chakra.text
                  x={name === "white" ? -4 : 4}
                  y="11"
                  textAnchor={name === "white" ? "end" : "start"}
                  fill="ink"
                  fontSize="11px"
                >
                  {word}
                </chakra.text>
              </g>
            ))}
          </g>
        </chakra.svg>
      </Box>
      <Columns>
        {settings.map((setting) => (
          <SettingControl key={setting.name} step={step} setting={setting} />
        ))}
      </Columns>
    </Flex>
  );
}

const RANGES = ["shadows", "mids", "highlights"];

function BalancePanel({ step, settings }: PanelProps) {
  const mode = settings.find((s) => s.name === "mode");
  const cdl = step.settings.mode === "cdl";
  const value = (name: string) => Number(step.settings[name]);
  return (
    <Box>
      <Flex align="center" gap="14px" mb="4px">
        <Choice
          label="By"
          help={mode?.help}
          value={String(step.settings.mode)}
          choices={[
            { value: "ranges", word: "three ranges" },
            { value: "cdl", word: "ASC CDL" },
          ]}
          onChoose={(word) => changeSetting(step, "mode", word, true)}
        />
        {cdl && <CdlFile step={step} />}
      </Flex>
      {cdl ? (
        <Columns>
          {settings.slice(-4).map((setting) => (
            <SettingControl key={setting.name} step={step} setting={setting} />
          ))}
        </Columns>
      ) : (
        <Flex gap="14px" wrap="wrap" pl="14px">
          {RANGES.map((range) => (
            <Box key={range} flex="1 1 222px" maxW="340px">
              <Keyed
                step={step}
                names={["hue", "strength", "lightness"].map((what) => `${range}_${what}`)}
                label={range}
              >
                <HueDisc
                  label={range.charAt(0).toUpperCase() + range.slice(1)}
                  hue={value(`${range}_hue`)}
                  strength={value(`${range}_strength`)}
                  lightness={value(`${range}_lightness`)}
                  onTint={(hue, strength, done) =>
                    changeSettings(
                      step,
                      { [`${range}_hue`]: hue, [`${range}_strength`]: strength },
                      done,
                    )
                  }
                  onLightness={(light, done) =>
                    changeSetting(step, `${range}_lightness`, light, done)
                  }
                />
              </Keyed>
            </Box>
          ))}
        </Flex>
      )}
    </Box>
  );
}

const BANDS = ["red", "yellow", "green", "cyan", "blue", "magenta"];
const SWATCHES = ["#d23", "#dc2", "#2a3", "#2bb", "#24d", "#c2b"];

/** The band a hue is nearest to. */
const bandOf = (value: Value) => (value.hue === null ? null : Math.round(value.hue / 60) % 6);

function pickBand(step: Step, take: (band: number) => void) {
  setState({
    picking: {
      prompt: "Pick a colour: its hue's band is taken",
      after: inputOf(step.id, benchSteps()),
      take: (value) => {
        const band = bandOf(value);
        if (band !== null && band !== undefined) take(band);
      },
    },
  });
}

function PickKey({ step, take }: { step: Step; take: (band: number) => void }) {
  return (
    <Button
      small
      type="button"
      title="Pick a hue from the picture"
      onClick={() => pickBand(step, take)}
    >
      <Pipette size={13} /> Pick from the picture
    </Button>
  );
}

/** A band is chosen, by name or from the picture; then it is turned, strengthened, lightened. */
function HuePanel({ step, settings }: PanelProps) {
  const [band, setBand] = useState(0);
  const changeAt = (i: number) =>
    settings.some((s) => ((step.settings[s.name] as number[])[i] ?? 0) !== 0);
  return (
    <Flex gap="16px">
      <Flex direction="column" gap="4px" width="112px" role="group" aria-label="Hue band">
        {BANDS.map((name, i) => (
          <Button
            key={name}
            small
            type="button"
            justifyContent="flex-start"
            height="25px"
            tone={band === i ? "here" : "paper"}
            aria-pressed={band === i}
            onClick={() => setBand(i)}
          >
            <Box
              width="12px"
              height="12px"
              borderRadius="50%"
              style={{ background: SWATCHES[i] }}
            />
            {name}
            {changeAt(i) ? " •" : ""}
          </Button>
        ))}
      </Flex>
      <Box width="300px">
        {settings.map((setting) => {
          const values = step.settings[setting.name] as number[];
          const turns = setting.name === "turn";
          return (
            <Keyed key={setting.name} step={step} names={[setting.name]} label={setting.label}>
              <NumberControl
                label={setting.label}
                help={setting.help}
                value={values[band] ?? 0}
                initial={0}
                softMinimum={setting.soft_minimum ?? -1}
                softMaximum={setting.soft_maximum ?? 1}
                unit={turns ? "°" : "%"}
                scale={turns ? 1 : 100}
                onMove={(given, done) =>
                  changeSetting(step, setting.name, values.with(band, given), done)
                }
              />
            </Keyed>
          );
        })}
        <Flex gap="6px" mt="8px" wrap="wrap">
          <PickKey step={step} take={setBand} />
          <Button
            small
            type="button"
            disabled={!BANDS.some((_, i) => changeAt(i))}
            onClick={() =>
              changeSettings(
                step,
                Object.fromEntries(settings.map((s) => [s.name, s.default as number[]])),
                true,
              )
            }
          >
            All as they were
          </Button>
        </Flex>
      </Box>
    </Flex>
  );
}

/** Six lightnesses; a hue picked from the picture puts the pointer on its own. */
function MonoPanel({ step, settings }: PanelProps) {
  const box = useRef<HTMLDivElement>(null);
  const focus = (band: number) =>
    box.current?.querySelectorAll<HTMLElement>("[role=slider]")[band]?.focus();
  return (
    <Box ref={box}>
      <Columns>
        {settings.map((setting) => (
          <SettingControl key={setting.name} step={step} setting={setting} />
        ))}
        <PickKey step={step} take={focus} />
      </Columns>
    </Box>
  );
}
