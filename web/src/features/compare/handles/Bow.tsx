import { Grip } from "./Grip";
import type { Point, Shape, Size } from "./shapes";

/** Of half the picture's height and width: where a straight line ran before it was bent. */
const INSET = 0.84;
const MOST = 0.5;
const PIECES = 24;

const clampBend = (v: number) => Math.min(Math.max(v, -MOST), MOST);

/** A frame of straight lines as the lens bends it: by the middle of its top, and by its corner. */
export function Bow({ step, size, set }: { step: Shape["step"]; size: Size; set: Shape["set"] }) {
  const barrel = Number(step.settings.barrel);
  const edge = Number(step.settings.edge_barrel);
  const half: Point = [size.width / 2, size.height / 2];
  const unit = Math.hypot(...half);
  const [wide, high] = half.map((v) => (INSET * v) / unit) as Point;

  /** Where a place from the middle, 1 at the corners, is after the bend (Brown's model undone). */
  const bendPoint = ([x, y]: Point): Point => {
    const far = Math.hypot(x, y);
    let r = far;
    for (let n = 0; n < 30; n++) r = far / (1 + barrel * r ** 2 + edge * r ** 4);
    return [(x * r) / far, (y * r) / far];
  };
  const placeSeen = (place: Point): Point => {
    const [x, y] = bendPoint(place);
    return [half[0] + unit * x, half[1] + unit * y];
  };
  const side = (from: Point, to: Point) =>
    Array.from({ length: PIECES }, (_, n) =>
      placeSeen([
        from[0] + ((to[0] - from[0]) * n) / PIECES,
        from[1] + ((to[1] - from[1]) * n) / PIECES,
      ]),
    );
  const corners: Point[] = [
    [-wide, -high],
    [wide, -high],
    [wide, high],
    [-wide, high],
  ];
  const outline = corners
    .flatMap((corner, n) => side(corner, corners[(n + 1) % 4] as Point))
    .map((place) => place.map((v) => v.toFixed(1)).join(","))
    .join(" ");
  const middle = placeSeen([0, -high]);
  const corner = placeSeen([wide, -high]);
  const far = Math.hypot(wide, high);
  return (
    <>
      <polygon points={outline} fill="none" stroke="#000" strokeOpacity="0.55" strokeWidth="3.5" />
      <polygon points={outline} fill="none" stroke="#ffffff" strokeWidth="1.5" />
      <Grip
        name="barrel"
        label={`Barrel: ${barrel.toFixed(2)}`}
        x={middle[0]}
        y={middle[1]}
        unit={size}
        value={[half[1] - middle[1], edge]}
        onMove={(_dx, dy, done, from) => {
          const r = Math.max(from[0] - dy, 1) / unit;
          set(done, ["barrel", clampBend((high / r - 1 - from[1] * r ** 4) / r ** 2)]);
        }}
      />
      <Grip
        name="edge_barrel"
        label={`Edge barrel: ${edge.toFixed(2)}`}
        x={corner[0]}
        y={corner[1]}
        unit={size}
        value={[Math.hypot(corner[0] - half[0], corner[1] - half[1]), barrel]}
        onMove={(dx, dy, done, from) => {
          const out = (dx * wide - dy * high) / far;
          const r = Math.max(from[0] + out, 1) / unit;
          set(done, ["edge_barrel", clampBend((far / r - 1 - from[1] * r ** 2) / r ** 4)]);
        }}
      />
    </>
  );
}
