import type { SVGProps } from "react";
import type { SettingValue, Shape, ShapeOf, Step } from "../../api/client";
import { type FrameMap, movingSteps } from "../../model/frameMaps";
import { asShotAfter, type Box, type Move, type Size, wholeOf } from "../../model/frames";
import { fieldsOf, isOutline, isShape, keyName, shapesOf, sourceOf } from "../../model/masks";
import { svgPath } from "../../model/paths";
import { inverse, middleOf, moveBy, PLACE_FIELDS, rideShape } from "../../model/tracks";
import { setState, useBench } from "../../store/bench";
import { useFrameMap, warpsFrame } from "../../store/frameMaps";
import { useIsLifting } from "../../store/lifting";
import { changeShape, chosenShape, removeShape } from "../../store/masks";
import { isOwnTrack, putRight, useRide, useTracking } from "../../store/tracks";
import { atFrame, useAtFrame } from "../../store/values";
import { Ellipse, Rim } from "./handles/Ellipse";
import { Feather } from "./handles/Feather";
import { NewPath } from "./handles/NewPath";
import { Overlay } from "./handles/Overlay";
import { Path } from "./handles/Path";
import { Strokes } from "./handles/Strokes";
import { TrackLine } from "./handles/TrackLine";
import { Wash } from "./handles/Wash";

/** The shapes of the open step's mask, drawn over the picture; the one that is set has handles. */
export function MaskHandles({ step: written, size }: { step: Step; size: Size }) {
  const step = useAtFrame(written);
  const steps = useBench((s) => s.look?.steps) ?? [];
  const frame = useBench((s) => s.frame);
  const drawing = useBench((s) => s.drawing);
  const set = chosenShape(
    step,
    useBench((s) => s.shape),
  );
  const source = set && sourceOf(steps, step, set);
  const lifting = useIsLifting(source?.step, source?.shape);
  const playing = useBench((s) => s.playing);
  // the weight is seen as the picture stands at the step, all else at the end
  const examined = useBench((s) => s.examined !== null);
  const { before, after } = movingSteps(steps, step.id, warpsFrame);
  const moving = examined ? before : [...before, ...after];
  const map = useFrameMap(moving);
  /** A shape as it is at the play head, though it be another step's. */
  const shapeShown = (shape: Shape): Shape => {
    if (!shape.same_as) return shape;
    const source = sourceOf(steps, step, shape);
    const there = shapesOf(atFrame(source.step, frame)).find((s) => s.id === source.shape.id);
    return { ...(there ?? source.shape), id: shape.id, same_as: shape.same_as };
  };
  if (!size.width || !size.height) return null;
  if (lifting)
    return playing ? null : (
      <Overlay size={size} title="What is lifted out">
        <Strokes size={size} />
      </Overlay>
    );
  if (map === undefined) return null;
  const frameOnScreen = { box: map ? wholeOf(size) : asShotAfter(moving, size), map };
  return (
    <Overlay size={size} title="Where the step shows">
      {shapesOf(step)
        .filter((shape) => shape.id !== set?.id)
        .map((shape) => (
          <Faint key={shape.id} shape={shapeShown(shape)} {...frameOnScreen} />
        ))}
      {set && !drawing && (
        <Held key={set.id} step={step} own={set} shape={shapeShown(set)} {...frameOnScreen} />
      )}
      {drawing && <NewPath step={step} {...frameOnScreen} />}
    </Overlay>
  );
}

/** The frame as shot, where the wall shows it, and how it is moved there by more than crops. */
interface OnScreen {
  box: Box;
  map: FrameMap | null;
}

const movedBy = (shape: Shape, move: Move | undefined, { width, height }: Size) =>
  move ? rideShape(shape, move, width / height) : shape;

/** A shape that is not set: its edge; a click sets it. */
function Faint({ shape: written, box, map }: { shape: Shape } & OnScreen) {
  const { matrix } = useRide(written.track);
  const shape = movedBy(movedBy(written, moveBy(matrix), box), map?.to, box);
  const look = {
    fill: "none",
    stroke: "#ffffff",
    strokeOpacity: 0.75,
    strokeWidth: 1.2,
    strokeDasharray: "2 4",
    pointerEvents: "stroke" as const,
    style: { cursor: "pointer" },
    onClick: () => setState({ shape: shape.id }),
  };
  if (isShape(shape, "drawn")) return <path d={svgPath(shape.points, box)} {...look} />;
  if (isShape(shape, "wash")) return <WashLine shape={shape} box={box} {...look} />;
  if (!isShape(shape, "ellipse", "box")) return null;
  const [x, y] = shape.centre;
  const [wide, high] = shape.size;
  return (
    <g
      transform={`translate(${box.left + x * box.width} ${box.top + y * box.height}) rotate(${shape.turn})`}
    >
      <Rim
        wide={wide * box.width}
        high={high * box.height}
        round={isShape(shape, "box") ? shape.round : undefined}
        {...look}
      />
    </g>
  );
}

interface WashLineProps extends SVGProps<SVGLineElement> {
  shape: ShapeOf<"wash">;
  box: Box;
}

function WashLine({ shape: { from: a, to: b }, box, ...look }: WashLineProps) {
  return (
    <line
      x1={box.left + a[0] * box.width}
      y1={box.top + a[1] * box.height}
      x2={box.left + b[0] * box.width}
      y2={box.top + b[1] * box.height}
      {...look}
    />
  );
}

/** Whether a shape lies at a place of the frame. */
const isIn = (shape: Shape) => isOutline(shape) || isShape(shape, "wash");

/** The shape that is set, with what it is moved by. `own` is the step's, `written` without its ride. */
function Held({
  step,
  own,
  shape: written,
  box,
  map,
}: {
  step: Step;
  own: Shape;
  shape: Shape;
} & OnScreen) {
  const { track, shot, matrix } = useRide(written.track);
  const hand = useTracking((s) => s.hand);
  if (!isIn(written)) return null;
  const aspect = box.width / box.height;
  const put = hand?.frame === shot && hand.shape.id === written.id ? hand.shape : null;
  const shape = movedBy(put ?? rideShape(written, moveBy(matrix), aspect), map?.to, box);
  const set = (done: boolean, ...values: Parameters<typeof changeShape>[2]) => {
    if (!track && !map) return changeShape(step, own, values, done);
    const now = movedBy({ ...shape, ...Object.fromEntries(values) } as Shape, map?.back, box);
    const places = values.some(([field]) => PLACE_FIELDS.includes(field));
    if (track && places && isOwnTrack(track, written) && shot !== track.begin)
      return putRight({ step, own, track, shot, was: written, now, aspect }, done);
    const back = rideShape(now, moveBy(inverse(matrix)), aspect);
    const given = values.map(([field]): [string, SettingValue] => [
      field,
      back[field] as SettingValue,
    ]);
    changeShape(step, own, given, done);
  };
  // keys of a shape that is another step's are set there
  const keyNameOf = (field: string) => (own.same_as ? "" : keyName(own, field));
  const held = { step: { ...step, settings: fieldsOf(shape) }, box, set, keyed: keyNameOf };
  const remove = () => removeShape(step, own.id);
  return (
    <>
      {track && <TrackLine track={track} middle={middleOf(written)} box={box} map={map} />}
      <ShapeHandles held={held} shape={shape} onRemove={remove} />
    </>
  );
}

interface HeldShape {
  step: Step;
  box: Box;
  set: (done: boolean, ...values: [string, SettingValue][]) => void;
  keyed: (field: string) => string;
}

function ShapeHandles({
  held,
  shape,
  onRemove,
}: {
  held: HeldShape;
  shape: Shape;
  onRemove: () => void;
}) {
  const { box, set, keyed } = held;
  const moved = { box, set, keyed };
  if (isShape(shape, "ellipse", "box"))
    return (
      <>
        <Feather shape={shape} {...moved} />
        <Ellipse {...held} round={isShape(shape, "box") ? shape.round : undefined} />
      </>
    );
  if (isShape(shape, "drawn")) return <Path shape={shape} {...moved} onRemove={onRemove} />;
  if (isShape(shape, "wash")) return <Wash shape={shape} {...moved} />;
  return null;
}
