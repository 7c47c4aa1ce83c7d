import type { PlacedBlock, PlacedLobe, Points, Setting, Step, Stops } from "../../api/client";
import { plainOf } from "../../model/keyframes";
import { shownAs, UNITS } from "../../model/shownNumbers";
import { inputOf } from "../../model/stepInput";
import { choiceWord } from "../../model/stepSummary";
import { setState } from "../../store/bench";
import { changeStep, changeValues } from "../../store/edits";
import { benchSteps } from "../../store/look";
import { hexOf } from "../../store/readings";
import { Choice, Switch } from "../../ui/Choice";
import { ColourField } from "../../ui/ColourField";
import { Label } from "../../ui/Label";
import { NumberControl } from "../../ui/Number";
import { RampEditor } from "../../ui/RampEditor";
import { ToneWindow } from "../../ui/ToneWindow";
import { GrainChoice } from "./GrainChoice";
import { Keyed } from "./Keyed";
import { isPercentile, PercentileControl } from "./PercentileControl";
import { PlacedBlocks } from "./PlacedBlocks";
import { PlacedLobes } from "./PlacedLobes";
import { PlateChoice } from "./PlateChoice";
import { PlateProblem } from "./PlateProblem";
import { RemovedMarks } from "./RemovedMarks";
import { TableChoice } from "./TableChoice";
import { Tints } from "./Tints";
import { TooFine } from "./TooFine";
import { TrackChoice } from "./TrackChoice";

export type Given = Step["settings"][string];

/** Change a setting; one that is keyed gets a key at the play head. */
export function changeSetting(step: Step, name: string, value: Given, done: boolean) {
  changeSettings(step, { [name]: value }, done);
}

export function changeSettings(step: Step, values: Step["settings"], done: boolean) {
  changeValues(step.id, Object.entries(values), done);
}

/** How many rows a control takes of its column. */
export const rowsOf = (setting: Setting) =>
  ({ channels: 3, tones: 3, place: 2, ratio: 2, marks: 3, blocks: 3, tints: 3, plate: 2, seed: 2 })[
    setting.unit as string
  ] ?? 1;

const CHANNELS = ["R", "G", "B"];

const SIDES = ["across", "down"];

/** Shapes of frames that are in use. */
const RATIOS: [string, number][] = [
  ["16:9", 16 / 9],
  ["4:3", 4 / 3],
  ["1:1", 1],
  ["9:16", 9 / 16],
  ["1.85:1", 1.85],
  ["2.39:1", 2.39],
  ["21:9", 21 / 9],
];

const nearest = (ratio: number) => RATIOS.find(([, known]) => Math.abs(known - ratio) < 0.002)?.[0];

interface ControlProps {
  step: Step;
  setting: Setting;
  /** The name that its keys have: the setting's own, or that of a shape's field. */
  name?: string;
}

/** The control of a setting, with its mark for keys. */
export function SettingControl({ step, setting, name = setting.name }: ControlProps) {
  return (
    <Keyed step={step} names={[name]} label={setting.label} keyable={setting.keyable}>
      <Control step={step} setting={setting} name={name} />
    </Keyed>
  );
}

/** The control of a setting, by its unit. */
function Control({ step, setting, name = setting.name }: ControlProps) {
  const value = plainOf(step, name) ?? undefined;
  const change = (given: Given, done = true) => changeSetting(step, name, given, done);
  const enabling = setting.enabled_by ? step.settings[setting.enabled_by] : undefined;
  const idle = setting.enabled_by != null && isNone(enabling);
  const number = {
    help: setting.help,
    softMinimum: setting.soft_minimum ?? 0,
    softMaximum: setting.soft_maximum ?? 1,
    minimum: setting.minimum ?? undefined,
    maximum: setting.maximum ?? undefined,
    unit: UNITS[setting.unit] ?? "",
    whole:
      ["frames", "frame", "seed"].includes(setting.unit) ||
      (setting.unit === "count" && (setting.soft_maximum ?? 0) > 20),
    idle,
    ...shownAs(setting),
  };
  switch (setting.unit) {
    case "switch":
      return (
        <Switch label={setting.label} help={setting.help} on={Boolean(value)} onSwitch={change} />
      );
    case "choice": {
      const choices = (setting.choices ?? []) as (string | number)[];
      return (
        <Choice
          label={setting.label}
          help={setting.help}
          value={String(value)}
          choices={choices.map((c) => ({ value: String(c), word: choiceWord(setting.name, c) }))}
          onChoose={(word) => change(choices.find((c) => String(c) === word) ?? word)}
        />
      );
    }
    case "colour":
      return (
        <ColourField
          label={setting.label}
          help={setting.help}
          value={String(value)}
          onMove={change}
          onPick={() =>
            setState({
              picking: {
                prompt: setting.help || setting.label,
                after: inputOf(step.id, benchSteps()),
                take: (found) => change(hexOf(found)),
              },
            })
          }
        />
      );
    case "tones":
      return (
        <>
          <Label>{setting.label}</Label>
          <ToneWindow label={setting.label} points={value as Points} onMove={change} />
        </>
      );
    case "ramp":
      return (
        <RampEditor stops={value as Stops} initial={setting.default as Stops} onMove={change} />
      );
    case "plate":
      return (
        <>
          <PlateChoice value={String(value)} onChoose={(file) => change(file)} />
          <PlateProblem step={step} />
        </>
      );
    case "track":
      return <TrackChoice value={String(value)} help={setting.help} onChoose={change} />;
    case "grain":
      return <GrainChoice value={String(value)} onChoose={change} />;
    case "file":
      return <TableChoice value={String(value)} onChoose={(file) => change(file)} />;
    case "tints":
      return <Tints step={step} setting={setting} />;
    case "blocks":
      return (
        <PlacedBlocks
          label={setting.label}
          blocks={value as PlacedBlock[]}
          onChange={(blocks, done) => change(blocks, done)}
        />
      );
    case "lobes":
      return (
        <PlacedLobes
          label={setting.label}
          lobes={value as PlacedLobe[]}
          onChange={(lobes, done) => change(lobes, done)}
        />
      );
    case "marks":
      return <RemovedMarks label={setting.label} names={value as string[]} onChange={change} />;
    case "channels":
      return CHANNELS.map((channel, i) => (
        <NumberControl
          key={channel}
          label={`${setting.label} ${channel}`}
          value={(value as number[])[i] ?? 0}
          initial={(setting.default as number[])[i] ?? 0}
          {...number}
          onMove={(given, done) => change((value as number[]).with(i, given), done)}
        />
      ));
    case "place":
      return SIDES.map((side, i) => (
        <NumberControl
          key={side}
          label={`${setting.label} ${side}`}
          value={(value as number[])[i] ?? 0}
          initial={(setting.default as number[])[i] ?? 0}
          {...number}
          unit="%"
          scale={100}
          onMove={(given, done) => change((value as number[]).with(i, given), done)}
        />
      ));
    case "ratio":
      return (
        <>
          <Choice
            label="Shape"
            help={setting.help}
            value={nearest(Number(value)) ?? ""}
            choices={[
              ...(nearest(Number(value)) ? [] : [{ value: "", word: "as typed" }]),
              ...RATIOS.map(([name]) => ({ value: name, word: name })),
            ]}
            onChoose={(name) =>
              change(RATIOS.find(([known]) => known === name)?.[1] ?? Number(value))
            }
          />
          <NumberControl
            label={setting.label}
            value={Number(value)}
            initial={Number(setting.default)}
            {...number}
            unit=":1"
            onMove={change}
          />
        </>
      );
    default:
      if (isPercentile(value)) {
        return (
          <PercentileControl
            label={setting.label}
            help={setting.help}
            percentile={value.percentile}
            initial={Number(setting.default)}
            onMove={change}
          />
        );
      }
      return (
        <>
          <NumberControl
            label={setting.label}
            value={Number(value)}
            initial={Number(setting.default)}
            {...number}
            onMove={change}
          />
          <TooFine setting={setting} value={Number(value)} onEnlarge={change} />
          {setting.unit === "seed" && (
            <Switch
              label="Other for every clip"
              help="Each clip has a seed of its own, made of this one: no two look the same, and each always does"
              on={Boolean(step.seed_by_clip)}
              onSwitch={(on) => changeStep(step.id, (s) => ({ ...s, seed_by_clip: on }))}
            />
          )}
        </>
      );
  }
}

const isNone = (value: unknown) => value === 0 || value === "#808080";
