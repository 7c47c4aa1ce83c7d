import type { SettingValue, Step } from "../../api/client";
import { type Box, leftAfter, type Size, seenAtEnd, wholeOf } from "../../model/frames";
import { findStep, rowOf } from "../../model/lookTree";
import { useBench } from "../../store/bench";
import { changeValues } from "../../store/edits";
import { treatmentOf } from "../../store/look";
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
  const box = frameOf(handle, step, rowOf(steps, step.id), { width, height });
  return (
    <Overlay size={{ width, height }} title="What is set on the picture">
      <Drawn written={step} box={box} size={{ width, height }} />
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

function Drawn({ written, box, size }: { written: Step; box: Box; size: Size }) {
  const step = useAtFrame(written);
  const set = (done: boolean, ...values: [string, SettingValue][]) =>
    changeValues(step.id, values, done);
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
