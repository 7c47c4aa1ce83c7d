import type { SettingValue, Step } from "../../api/client";
import { type FrameMap, mapWithin, movingSteps } from "../../model/frameMaps";
import {
  asShotAfter,
  type Box,
  leftAfter,
  type Move,
  type Size,
  seenAtEnd,
  wholeOf,
} from "../../model/frames";
import { findStep, rowOf } from "../../model/lookTree";
import { inverse, matrixWithin, moveBy, riddenSettings } from "../../model/tracks";
import { useBench } from "../../store/bench";
import { changeValues } from "../../store/edits";
import { useFrameMap, warpsFrame } from "../../store/frameMaps";
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
  if (step.settings.reposition_every) return null; // it lies elsewhere in every throw
  return (
    <Overlay size={{ width, height }} title="What is set on the picture">
      <Placed handle={handle} step={step} steps={steps} size={{ width, height }} />
    </Overlay>
  );
}

/** Handles of a kind that are laid in the frame at a place which the look's steps lead to. */
const IN_FRAME_AT_STEP = ["ellipse", "plate"];

function Placed({
  handle,
  step,
  steps,
  size,
}: {
  handle: string;
  step: Step;
  steps: Step[];
  size: Size;
}) {
  const row = rowOf(steps, step.id);
  const { before, after } = movingSteps(steps, step.id, warpsFrame);
  const later = useFrameMap(IN_FRAME_AT_STEP.includes(handle) ? after : []);
  if (later === undefined) return null;
  if (!later) {
    const box = frameOf(handle, step, row, size);
    return <Drawn written={step} box={box} whole={asShotAfter(row, size)} size={size} map={null} />;
  }
  const box = frameAt(handle, before, size);
  const map = mapWithin(later, box, wholeOf(size));
  return <Drawn written={step} box={box} whole={asShotAfter(before, size)} size={size} map={map} />;
}

/** The frame at a step that its places are parts of. */
const frameAt = (handle: string, before: Step[], size: Size): Box =>
  handle === "plate" ? leftAfter(before, size) : wholeOf(size);

/** The frame that a step's places are parts of, where the wall shows it. */
function frameOf(handle: string, step: Step, row: Step[], size: Size): Box {
  if (handle === "opening" || handle === "line") return leftAfter(row, size); // the frame at the end
  const frame = frameAt(handle, row.slice(0, row.indexOf(step)), size);
  return seenAtEnd(frame, step, row, size);
}

interface DrawnProps {
  written: Step;
  /** The frame that its places are parts of. */
  box: Box;
  /** The whole frame as it was shot. */
  whole: Box;
  size: Size;
  /** How later steps move places of the box by more than crops. */
  map: FrameMap | null;
}

function Drawn({ written, box, whole, size, map }: DrawnProps) {
  const plain = useAtFrame(written);
  const { track, matrix } = useRide(plain.settings.track);
  const aspect = box.width / box.height;
  const ride = matrixWithin(matrix, box, whole);
  const moved = (settings: Step["settings"], ...moves: (Move | undefined | false)[]) =>
    moves.reduce((so, move) => (move ? riddenSettings(so, move, aspect) : so), settings);
  const settings = moved(plain.settings, track && moveBy(ride), map?.to);
  const step = { ...plain, settings };
  const set = (done: boolean, ...values: [string, SettingValue][]) => {
    const put = { ...step.settings, ...Object.fromEntries(values) };
    const back = moved(put, map?.back, track && moveBy(inverse(ride)));
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
