import {
  type Framing,
  framingOf,
  placeOfWindow,
  resizedWindow,
  windowIn,
} from "../../../model/frames";
import { Grip } from "./Grip";
import { type Point, perCent, placeOf, placeWords, type Shape, type Size } from "./shapes";
import { useDrag } from "./useDrag";

const CORNERS: [string, Point][] = [
  ["left upper", [-1, -1]],
  ["right upper", [1, -1]],
  ["right lower", [1, 1]],
  ["left lower", [-1, 1]],
];

type Held = [part: number, across: number, down: number];

/** What is left of the picture as a rectangle on it: moved by its inside, sized by its corners. */
export function Window({
  step,
  size,
  set,
}: {
  step: Shape["step"];
  size: Size;
  set: Shape["set"];
}) {
  const framing = framingOf(step);
  const box = windowIn(framing, size);
  const held: Held = [framing.part, ...placeOf(step.settings.place)];
  const then = ([part, across, down]: Held): Framing => ({
    ...framing,
    part,
    place: [across, down],
  });
  const move = (dx: number, dy: number, done: boolean, from: Held) => {
    const before = windowIn(then(from), size);
    set(done, ["place", placeOfWindow(before.left + dx, before.top + dy, then(from), size)]);
  };
  const drag = useDrag(held, move);
  const right = box.left + box.width;
  const bottom = box.top + box.height;
  return (
    <>
      <path
        d={`M0 0H${size.width}V${size.height}H0Z M${box.left} ${box.top}V${bottom}H${right}V${box.top}Z`}
        fill="#1a1a1a"
        fillOpacity="0.72"
        data-cut-off
      />
      <rect
        x={box.left}
        y={box.top}
        width={box.width}
        height={box.height}
        fill="transparent"
        stroke="#ffffff"
        strokeWidth="1.5"
        pointerEvents="all"
        cursor="move"
        style={{ touchAction: "none" }}
        data-window
        {...drag}
      />
      <Grip
        name="place"
        label={`What is left of the picture: ${placeWords([
          (box.left + box.width / 2) / size.width,
          (box.top + box.height / 2) / size.height,
        ])}`}
        x={box.left + box.width / 2}
        y={box.top + box.height / 2}
        unit={size}
        value={held}
        onMove={move}
      />
      {CORNERS.map(([name, corner]) => (
        <Grip
          key={name}
          name="size"
          label={`${name} corner: ${perCent(framing.part)} of the largest frame`}
          x={corner[0] < 0 ? box.left : right}
          y={corner[1] < 0 ? box.top : bottom}
          unit={box}
          value={held}
          onMove={(dx, dy, done, from) => {
            const { part, place } = resizedWindow(then(from), corner, [dx, dy], size);
            set(done, ["size", part], ["place", place]);
          }}
        />
      ))}
    </>
  );
}
