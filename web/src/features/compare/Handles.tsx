import type { SettingValue, Step } from "../../api/client";
import {
  asShotAfter,
  type Box,
  leftAfter,
  type Size,
  seenAtEnd,
  wholeOf,
} from "../../model/frames";
import { findStep, rowOf } from "../../model/lookTree";
import { inverse, riddenSettings, within } from "../../model/tracks";
import { useBench } from "../../store/bench";
import { changeValues } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { useRide } from "../../store/tracks";
import { beforeWindow } from "../../store/uncropped";
import { useAtFrame } from "../../store/values";
import { Blocks } from "./handles/Blocks";
import { Bow } from "./handles/Bow";
import { Ellipse } from "./handles/Ellipse";
import { Line } from "./handles/Line";
import { Marks } from "./handles/Marks";
import { Opening } from "./handles/Opening";
import { Overlay } from "./handles/Overlay";
import { Plate } from "./handles/Plate";
import { Window } from "./handles/Window";
import { MaskHandles } from "./MaskHandles";

/** What of the open step is set on the picture itself: drawn over it, dragged, or moved by keys. */
export function Handles({ width, height }: Size) {
  const open = useBench((s) => s.open);
  const steps = useBench((s) => s.look?.steps) ?? [];
  const step = findStep(steps, open);
  const uncropped = useBench((s) => beforeWindow(s) !== null);
  const where = useBench((s) => s.question === "where");
  const handle = step && treatmentOf(step)?.handle;
  if (step && where && !uncropped) return <MaskHandles step={step} size={{ width, height }} />;
  if (!step?.on || !handle || (handle === "window" && !uncropped)) return null;
  if (step.settings.thrown_every) return null; // it lies elsewhere in every throw
  const row = rowOf(steps, step.id);
  const box = frameOf(handle, step, row, { width, height });
  const whole = asShotAfter(row, { width, height });
  return (
    <Overlay size={{ width, height }} title="What is set on the picture">
      <Drawn written={step} box={box} whole={whole} size={{ width, height }} />
    </Overlay>
  );
}

/** The frame that a step's places are parts of, where the wall shows it. */
function frameOf(handle: string, step: Step, row: Step[], size: Size): Box {
  if (handle === "opening" || handle === "line") return leftAfter(row, size); // the frame at the end
  const before = row.slice(0, row.indexOf(step));
  const frame = handle === "plate" ? leftAfter(before, size) : wholeOf(size);
  return seenAtEnd(frame, step, row, size);
}

interface DrawnProps {
  written: Step;
  /** The frame that its places are parts of. */
  box: Box;
  /** The whole frame as it was shot. */
  whole: Box;
  size: Size;
}

function Drawn({ written, box, whole, size }: DrawnProps) {
  const plain = useAtFrame(written);
  const { track, matrix } = useRide(plain.settings.track);
  const aspect = box.width / box.height;
  const ride = within(matrix, box, whole);
  const step = track ? { ...plain, settings: riddenSettings(plain.settings, ride, aspect) } : plain;
  const set = (done: boolean, ...values: [string, SettingValue][]) => {
    const put = { ...step.settings, ...Object.fromEntries(values) };
    const back = track ? riddenSettings(put, inverse(ride), aspect) : put;
    const given = values.map(([name]): [string, SettingValue] => [
      name,
      back[name] as SettingValue,
    ]);
    changeValues(step.id, given, done);
  };
  switch (treatmentOf(step)?.handle) {
    case "opening":
      return <Opening step={step} box={box} set={set} />;
    case "plate":
      return <Plate step={step} box={box} set={set} />;
    case "ellipse":
      return <Ellipse step={step} box={box} set={set} />;
    case "line":
      return <Line step={step} box={box} set={set} />;
    case "marks":
      return <Marks step={step} box={{ left: 0, top: 0, ...size }} set={set} />;
    case "blocks":
      return <Blocks step={step} box={box} set={set} />;
    case "bow":
      return <Bow step={step} size={size} set={set} />;
    default:
      return <Window step={step} size={size} set={set} />;
  }
}
