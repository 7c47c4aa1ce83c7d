import { Grip } from "./Grip";
import {
  boxOf,
  type Point,
  perCent,
  placeOf,
  placeWords,
  type Shape,
  type Size,
  within,
} from "./shapes";

const LEAST = 0.2;

/** The picture is moved behind its frame, and enlarged from the frame's corner. */
export function Window({
  step,
  size,
  set,
}: {
  step: Shape["step"];
  size: Size;
  set: Shape["set"];
}) {
  const box = boxOf(Number(step.settings.ratio), size);
  const part = Number(step.settings.size);
  const place = placeOf(step.settings.place);
  const room: Point = [size.width - box.width * part, size.height - box.height * part];
  const moved = (by: number, axis: 0 | 1, from: Point) =>
    room[axis] > 1 ? within(from[axis] - (by * part) / room[axis]) : from[axis];
  return (
    <>
      <rect
        x={box.left}
        y={box.top}
        width={box.width}
        height={box.height}
        fill="none"
        stroke="#ffffff"
        strokeDasharray="6 5"
      />
      <Grip
        name="place"
        label={`The picture behind its frame: ${placeWords(place)}`}
        x={size.width / 2}
        y={size.height / 2}
        unit={size}
        value={place}
        stays
        onMove={(dx, dy, done, from) =>
          set(done, ["place", [moved(dx, 0, from), moved(dy, 1, from)]])
        }
      />
      <Grip
        name="size"
        label={`How much of the picture is shown: ${perCent(part)}`}
        x={box.left + box.width}
        y={box.top + box.height}
        unit={box}
        value={[part, 0]}
        stays
        onMove={(dx, dy, done, from) => {
          const half = Math.hypot(box.width, box.height) / 2;
          const out = (dx * box.width + dy * box.height) / (2 * half);
          const grown = from[0] / Math.max(1 + out / half, 0.1);
          set(done, ["size", Math.min(Math.max(grown, LEAST), 1)]);
        }}
      />
    </>
  );
}
