import type { SVGAttributes } from "react";
import { Grip } from "./Grip";
import { clampUnit, type Point, perCent, placeOf, placeWords, type Shape } from "./shapes";

/** A point of the picture. */
export function Centre({ step, box, set, keyed = (name) => name }: Shape) {
  const centre = placeOf(step.settings.centre);
  return (
    <Grip
      name={keyed("centre")}
      label={`Centre: ${placeWords(centre)}`}
      x={box.left + centre[0] * box.width}
      y={box.top + centre[1] * box.height}
      unit={box}
      onMove={(dx, dy, done, from) =>
        set(done, [
          "centre",
          [clampUnit(from[0] + dx / box.width), clampUnit(from[1] + dy / box.height)],
        ])
      }
      value={centre}
    />
  );
}

/** An ellipse that is moved, resized and turned; or, with `round`, a box with such corners. */
export function Ellipse({ step, box, set, keyed = (name) => name, round }: Shape) {
  const centre = placeOf(step.settings.centre);
  const size = placeOf(step.settings.size);
  const turn = Number(step.settings.turn);
  const angle = (turn * Math.PI) / 180;
  const x = box.left + centre[0] * box.width;
  const y = box.top + centre[1] * box.height;
  const wide = size[0] * box.width;
  const high = size[1] * box.height;
  const along: Point = [Math.cos(angle), Math.sin(angle)];
  const normal: Point = [-along[1], along[0]];
  const smallest = 0.02;
  const resizeAxis = (axis: 0 | 1, by: number, from: Point): Point =>
    from.map((v, i) => (i === axis ? Math.min(Math.max(v + by, smallest), 1) : v)) as Point;
  const beyond = wide + 34;
  return (
    <>
      <g transform={`translate(${x} ${y}) rotate(${turn})`} fill="none">
        <Rim
          wide={wide}
          high={high}
          round={round}
          stroke="#000000"
          strokeOpacity="0.55"
          strokeWidth="3.5"
        />
        <Rim wide={wide} high={high} round={round} stroke="#ffffff" strokeWidth="1.5" />
        <line x1={wide} x2={beyond} stroke="#ffffff" strokeWidth="1.5" />
      </g>
      <Centre step={step} box={box} set={set} keyed={keyed} />
      <Grip
        name={keyed("size")}
        label={`Size across: ${perCent(size[0])}`}
        x={x + along[0] * wide}
        y={y + along[1] * wide}
        unit={box}
        value={size}
        onMove={(dx, dy, done, from) =>
          set(done, ["size", resizeAxis(0, (dx * along[0] + dy * along[1]) / box.width, from)])
        }
      />
      <Grip
        name={keyed("size")}
        label={`Size down: ${perCent(size[1])}`}
        x={x + normal[0] * high}
        y={y + normal[1] * high}
        unit={box}
        value={size}
        onMove={(dx, dy, done, from) =>
          set(done, ["size", resizeAxis(1, (dx * normal[0] + dy * normal[1]) / box.height, from)])
        }
      />
      <Grip
        name={keyed("turn")}
        label={`Turn: ${Math.round(turn)}°`}
        x={x + along[0] * beyond}
        y={y + along[1] * beyond}
        unit={{ width: 180, height: 180 }}
        value={[turn, 0]}
        onMove={(dx, dy, done, from) => {
          const start = (from[0] * Math.PI) / 180;
          const now = Math.atan2(Math.sin(start) * beyond + dy, Math.cos(start) * beyond + dx);
          const degrees = (((((now * 180) / Math.PI + 90) % 180) + 180) % 180) - 90;
          set(done, ["turn", Math.round(10 * degrees) / 10]);
        }}
      />
    </>
  );
}

interface RimProps extends SVGAttributes<SVGElement> {
  wide: number;
  high: number;
  round: number | undefined;
}

/** The edge of an ellipse about its middle, or of a box with corners as round as that. */
export function Rim({ wide, high, round, ...look }: RimProps) {
  if (round === undefined) return <ellipse rx={wide} ry={high} {...look} />;
  const radius = round * Math.min(wide, high);
  return (
    <rect
      x={-wide}
      y={-high}
      width={2 * wide}
      height={2 * high}
      rx={radius}
      ry={radius}
      {...look}
    />
  );
}
