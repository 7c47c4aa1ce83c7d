import { chakra } from "@chakra-ui/react";
import type { SettingValue, Step } from "../../api/client";
import { findStep, rowOf } from "../../model/lookTree";
import { useBench } from "../../store/bench";
import { changeValues } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { useAtFrame } from "../../store/values";
import { Blocks } from "./handles/Blocks";
import { Bow } from "./handles/Bow";
import { Centre, Ellipse } from "./handles/Ellipse";
import { Line } from "./handles/Line";
import { Marks } from "./handles/Marks";
import { type Box, boxOf, type Size } from "./handles/shapes";
import { Window } from "./handles/Window";

const Svg = chakra("svg");

/** What of the open step is set on the picture itself: drawn over it, dragged, or moved by keys. */
export function Handles({ width, height }: Size) {
  const open = useBench((s) => s.open);
  const steps = useBench((s) => s.look?.steps) ?? [];
  const step = findStep(steps, open);
  if (!step?.on || !treatmentOf(step)?.handle) return null;
  const box = leftBefore(rowOf(steps, step.id), step, { width, height });
  return (
    <Svg
      position="absolute"
      inset="0"
      width="100%"
      height="100%"
      pointerEvents="none"
      overflow="visible"
      viewBox={`0 0 ${width} ${height}`}
    >
      <title>What is set on the picture</title>
      <Drawn written={step} box={box} size={{ width, height }} />
    </Svg>
  );
}

/** What steps before have left of the frame. */
function leftBefore(row: Step[], step: Step, size: Size): Box {
  const before = row.slice(0, row.indexOf(step)).filter((s) => s.on);
  const last = before.filter((s) => treatmentOf(s)?.handle === "window").at(-1);
  return last
    ? boxOf(Number(last.settings.ratio), size)
    : { left: 0, top: 0, width: size.width, height: size.height };
}

function Drawn({ written, box, size }: { written: Step; box: Box; size: Size }) {
  const step = useAtFrame(written);
  const set = (done: boolean, ...values: [string, SettingValue][]) =>
    changeValues(step.id, values, done);
  switch (treatmentOf(step)?.handle) {
    case "point":
      return <Centre step={step} box={box} set={set} />;
    case "ellipse":
      return <Ellipse step={step} box={box} set={set} />;
    case "line":
      return <Line step={step} box={box} set={set} />;
    case "marks":
      return <Marks step={step} box={{ left: 0, top: 0, ...size }} set={set} />;
    case "blocks":
      return <Blocks step={step} box={{ left: 0, top: 0, ...size }} set={set} />;
    case "bow":
      return <Bow step={step} size={size} set={set} />;
    default:
      return <Window step={step} size={size} set={set} />;
  }
}
