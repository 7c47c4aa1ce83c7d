import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Setting, Shape, Step } from "../../api/client";
import { allSteps, readable } from "../../model/lookTree";
import { keyName, matteProblem, shapeProblem, sourceOf } from "../../model/masks";
import { stepName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { useIsLifting } from "../../store/lifting";
import { changeShape, joinShape, partShape, shareShape } from "../../store/masks";
import { usePlates } from "../../store/plates";
import { atFrame } from "../../store/values";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { LiftedFrom } from "./LiftedFrom";
import { LiftTools } from "./LiftTools";
import { PlateChoice } from "./PlateChoice";
import { RidesOn } from "./RidesOn";
import { SettingControl } from "./SettingControl";

const Select = chakra("select");

/** Fields that are a shape's own though it be the same as another's, and have a control of their own. */
const OWN = ["join", "strength", "invert", "points", "track"];

/** The settings of one shape, and what is done with it as a whole. */
export function ShapePanel({ step, shape }: { step: Step; shape: Shape }) {
  const steps = useBench((s) => s.look?.steps) ?? [];
  const frame = useBench((s) => s.frame);
  const source = sourceOf(steps, step, shape);
  const shared = source.step.id !== step.id;
  const there = shared ? atFrame(source.step, frame) : step;
  const kind = useBench((s) => s.catalogue?.shapes.find((k) => k.kind === source.shape.kind));
  const fields =
    kind?.settings.filter(
      (s) => !OWN.includes(s.name) || (s.name === "points" && kind.kind === "tones"),
    ) ?? [];
  const strength = kind?.settings.find((s) => s.name === "strength");
  const control = (setting: Setting) =>
    setting.name === "of" ? (
      <Of key={setting.name} step={step} shape={shape} of={String(source.shape.of)} />
    ) : setting.unit === "plate" ? (
      <PlateChoice
        key={setting.name}
        value={String(source.shape.file)}
        onChoose={(file) => changeShape(step, shape, [["file", file]])}
      />
    ) : (
      <SettingControl
        key={setting.name}
        step={there}
        setting={withoutKeys(setting, shared)}
        name={keyName(source.shape, setting.name)}
      />
    );
  const frames = useBench((s) => s.clip?.frames) ?? 0;
  const matte = usePlates()?.find((plate) => plate.file === source.shape.file)?.frames;
  const problem = shapeProblem(source.shape) ?? matteProblem(matte, frames);
  const lifting = useIsLifting(source.step, source.shape);
  if (lifting) return <LiftTools />;
  const onPicture = (setting: Setting) => setting.unit === "place";
  return (
    <Flex direction="column">
      {fields.filter((f) => !onPicture(f)).map(control)}
      {source.shape.kind === "matte" && (
        <LiftedFrom
          step={source.step}
          shape={source.shape}
          file={String(source.shape.file ?? "")}
        />
      )}
      {kind?.settings.some((s) => s.name === "track") && !shared && (
        <RidesOn key={shape.id} step={step} shape={shape} />
      )}
      {strength && (
        <SettingControl step={step} setting={strength} name={keyName(shape, "strength")} />
      )}
      <Flex gap="6px" my="3px" wrap="wrap" align="center">
        <Button
          small
          type="button"
          height="24px"
          tone={shape.invert ? "here" : "paper"}
          aria-pressed={shape.invert}
          title="Its outside instead of its inside"
          onClick={() => joinShape(step, shape.id, { invert: !shape.invert })}
        >
          Invert
        </Button>
        <UseIn step={step} shape={shape} />
        {shape.same_as && (
          <Button
            small
            type="button"
            height="24px"
            title="Make it this step's own; the other stays as it is"
            onClick={() => partShape(step, shape.id)}
          >
            Part from {stepName(source.step)}
          </Button>
        )}
      </Flex>
      {problem && (
        <Box color="ember" fontSize="12px" role="status">
          {problem}
        </Box>
      )}
      {shared && (
        <Box color="mute" fontSize="12px">
          One with {stepName(source.step)}'s: both change.
        </Box>
      )}
      {fields.filter(onPicture).map(control)}
    </Flex>
  );
}

/** A shape of another step is keyed there. */
const withoutKeys = (setting: Setting, shared: boolean): Setting =>
  shared ? { ...setting, keyable: false } : setting;

/** In which picture tones and hues are looked for. */
function Of({ step, shape, of }: { step: Step; shape: Shape; of: string }) {
  const steps = useBench((s) => s.look?.steps) ?? [];
  return (
    <Choice
      label="Found in"
      help="The picture its tones or hues are of"
      value={of}
      choices={[
        { value: "previous", word: "the picture before" },
        { value: "footage", word: "the footage as shot" },
        ...readable(steps, step.id).map((s) => ({
          value: s.id,
          word: `after ${stepName(s)} (${s.id})`,
        })),
      ]}
      onChoose={(found) => changeShape(step, shape, [["of", found]])}
    />
  );
}

/** Has another step show in the same shape. */
function UseIn({ step, shape }: { step: Step; shape: Shape }) {
  const steps = useBench((s) => s.look?.steps) ?? [];
  const others = allSteps(steps).filter((s) => s.id !== step.id);
  if (!others.length) return null;
  return (
    <Select
      aria-label={`Use ${shape.id} in another step, too`}
      value=""
      onChange={(event) => shareShape(step, shape, event.target.value)}
      height="24px"
      fontSize="13px"
      px="6px"
      color="ink"
      bg="sheet"
      borderWidth="1px"
      borderColor="line"
      borderRadius="5px"
      cursor="pointer"
    >
      <option value="" disabled>
        Use it in… too
      </option>
      {others.map((other) => (
        <option key={other.id} value={other.id}>
          {stepName(other)} ({other.id})
        </option>
      ))}
    </Select>
  );
}
