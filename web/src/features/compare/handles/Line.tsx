import { Grip } from "./Grip";
import { type Box, type Point, perCent, type Shape, within } from "./shapes";

/** Which way light goes from an edge or a corner, across and down. */
const INWARD: Record<string, Point> = {
  left: [1, 0],
  right: [-1, 0],
  top: [0, 1],
  bottom: [0, -1],
  "top left": [0.8, 0.6],
  "top right": [-0.8, 0.6],
  "bottom left": [0.8, -0.6],
  "bottom right": [-0.8, -0.6],
};

const LEAST = 0.05;
const MOST = 1.2;

/** Where on the frame's rim a place of an edge or a corner is, and which way the rim goes there. */
function footOf(edge: string, position: number, { left, top, width, height }: Box): [Point, Point] {
  const lean = 0.5 * (position - 0.5) * height;
  if (edge === "top" || edge === "bottom")
    return [
      [left + position * width, edge === "top" ? top : top + height],
      [width, 0],
    ];
  if (edge === "left" || edge === "right")
    return [
      [edge === "left" ? left : left + width, top + position * height],
      [0, height],
    ];
  const way = edge.endsWith("left") ? 1 : -1;
  const down = edge.startsWith("top") ? 1 : -1;
  const corner: Point = [way > 0 ? left : left + width, down > 0 ? top : top + height];
  return lean > 0
    ? [
        [corner[0] + way * lean, corner[1]],
        [way * 0.5 * height, 0],
      ]
    : [
        [corner[0], corner[1] - down * lean],
        [0, -down * 0.5 * height],
      ];
}

/** A line from the frame's rim inwards: its foot is moved along the rim, its end in and out. */
export function Line({ step, box, set }: Shape) {
  const edge = String(step.settings.from_edge);
  const position = Number(step.settings.position);
  const reach = Number(step.settings.reach);
  const way = INWARD[edge] as Point;
  const [[x, y], rim] = footOf(edge, position, box);
  const long = Math.hypot(rim[0], rim[1]);
  const end: Point = [x + way[0] * reach * box.height, y + way[1] * reach * box.height];
  return (
    <>
      <g fill="none">
        <line
          x1={x}
          y1={y}
          x2={end[0]}
          y2={end[1]}
          stroke="#000"
          strokeOpacity="0.55"
          strokeWidth="3.5"
        />
        <line x1={x} y1={y} x2={end[0]} y2={end[1]} stroke="#ffffff" strokeWidth="1.5" />
      </g>
      <Grip
        name="position"
        label={`Position on the edge: ${perCent(position)}`}
        x={x}
        y={y}
        unit={{ width: Math.abs(rim[0]), height: Math.abs(rim[1]) }}
        value={[position, 0]}
        onMove={(dx, dy, done, from) =>
          set(done, ["position", within(from[0] + (dx * rim[0] + dy * rim[1]) / long ** 2)])
        }
      />
      <Grip
        name="reach"
        label={`Reach: ${perCent(reach)}`}
        x={end[0]}
        y={end[1]}
        unit={{ width: box.height, height: box.height }}
        value={[reach, 0]}
        onMove={(dx, dy, done, from) => {
          const moved = from[0] + (dx * way[0] + dy * way[1]) / box.height;
          set(done, ["reach", Math.min(Math.max(moved, LEAST), MOST)]);
        }}
      />
    </>
  );
}
