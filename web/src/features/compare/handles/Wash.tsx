import type { MaskShape } from "./Feather";
import { Grip } from "./Grip";
import { type Point, placeWords } from "./shapes";

/** How far the lines across a wash reach, in CSS pixels. */
const ACROSS = 90;

/** A wash: from where it is nothing to where it is all, each end moved by itself, or both. */
export function Wash({ shape: { from, to }, box, set, keyed }: MaskShape<"wash">) {
  const at = ([x, y]: Point): Point => [box.left + x * box.width, box.top + y * box.height];
  const [[ax, ay], [bx, by]] = [at(from), at(to)];
  const length = Math.max(Math.hypot(bx - ax, by - ay), 1e-6);
  const [nx, ny] = [(-(by - ay) / length) * ACROSS, ((bx - ax) / length) * ACROSS];
  const movePoint = (dx: number, dy: number, [x, y]: Point): Point => [
    x + dx / box.width,
    y + dy / box.height,
  ];
  const lines = (dashed: boolean) => (
    <g
      stroke={dashed ? "#ffffff" : "#000000"}
      strokeOpacity={dashed ? 1 : 0.55}
      strokeWidth={dashed ? 1.5 : 3.5}
    >
      <line x1={ax} y1={ay} x2={bx} y2={by} />
      <line x1={ax - nx} y1={ay - ny} x2={ax + nx} y2={ay + ny} strokeDasharray="2 4" />
      <line x1={bx - nx} y1={by - ny} x2={bx + nx} y2={by + ny} />
    </g>
  );
  return (
    <>
      {lines(false)}
      {lines(true)}
      <Grip
        small
        name=""
        label="Move the wash"
        x={(ax + bx) / 2}
        y={(ay + by) / 2}
        unit={box}
        value={[...from, ...to]}
        stays
        onMove={(dx, dy, done, start) => {
          const [fx, fy, tx, ty] = start;
          set(done, ["from", movePoint(dx, dy, [fx, fy])], ["to", movePoint(dx, dy, [tx, ty])]);
        }}
      />
      <Grip
        name={keyed("from")}
        label={`Nothing from: ${placeWords(from)}`}
        x={ax}
        y={ay}
        unit={box}
        value={from}
        onMove={(dx, dy, done, start) => set(done, ["from", movePoint(dx, dy, start)])}
      />
      <Grip
        name={keyed("to")}
        label={`All from: ${placeWords(to)}`}
        x={bx}
        y={by}
        unit={box}
        value={to}
        onMove={(dx, dy, done, start) => set(done, ["to", movePoint(dx, dy, start)])}
      />
    </>
  );
}
