import type { SettingValue, ShapeKindName, ShapeOf } from "../../../api/client";
import { Rim } from "./Ellipse";
import { Grip } from "./Grip";
import type { Box } from "./shapes";

const LINES = 1080;

const WIDEST = 400;

/** What the handles of a mask's shape of a kind are given. */
export interface MaskShape<K extends ShapeKindName> {
  shape: ShapeOf<K>;
  box: Box;
  set: (done: boolean, ...values: [string, SettingValue][]) => void;
  keyed: (field: string) => string;
}

/** CSS pixels of a px@1080, where the frame is on screen. */
export const perPixel = (box: Box) => box.height / LINES;

export const withinFeather = (px: number) => Math.round(Math.min(Math.max(px, 0), WIDEST));

/** The two lines between which an ellipse's or a box's feather lies; the outer one is dragged. */
export function Feather({ shape, box, set, keyed }: MaskShape<"ellipse" | "box">) {
  const [x, y] = shape.centre;
  const [wide, high] = shape.size;
  const { feather } = shape;
  const half = (feather / 2) * perPixel(box);
  const round = shape.kind === "box" ? shape.round : undefined;
  const angle = (shape.turn * Math.PI) / 180;
  const [rx, ry] = [wide * box.width, high * box.height];
  // where the rim is half-way between its two handles, and straight out from there
  const part = round === undefined ? Math.SQRT1_2 : 1;
  const [u, v] = [rx * part, -ry * part];
  const length = Math.hypot(u / (rx * rx), v / (ry * ry));
  const out = [u / (rx * rx) / length, v / (ry * ry) / length] as const;
  const turnPoint = (a: number, b: number) =>
    [Math.cos(angle) * a - Math.sin(angle) * b, Math.sin(angle) * a + Math.cos(angle) * b] as const;
  const way = turnPoint(out[0], out[1]);
  const at = turnPoint(u + out[0] * (half + GAP), v + out[1] * (half + GAP));
  const [left, top] = [box.left + x * box.width, box.top + y * box.height];
  const line = { fill: "none", stroke: "#ffffff", strokeWidth: 1.3, strokeDasharray: "1.5 4" };
  return (
    <>
      <g transform={`translate(${left} ${top}) rotate(${shape.turn})`}>
        {feather > 0 && (
          <Rim wide={rx + half} high={ry + half} round={roundOf(round, rx, ry, half)} {...line} />
        )}
        {feather > 0 && rx > half && ry > half && (
          <Rim wide={rx - half} high={ry - half} round={round} {...line} strokeOpacity="0.6" />
        )}
      </g>
      <Grip
        small
        name={keyed("feather")}
        label={`Feather: ${Math.round(feather)} px`}
        x={left + at[0]}
        y={top + at[1]}
        unit={{ width: LINES * perPixel(box), height: 0 }}
        value={feather}
        onMove={(dx, dy, done, from) =>
          set(done, [
            "feather",
            withinFeather(from + (2 * (dx * way[0] + dy * way[1])) / perPixel(box)),
          ])
        }
      />
    </>
  );
}

/** CSS pixels by which the grip stands off the line, so that without a feather it is not on the edge. */
const GAP = 16;

/** A box that is grown all round has corners as far from its own. */
const roundOf = (round: number | undefined, rx: number, ry: number, half: number) =>
  round === undefined ? undefined : (round * Math.min(rx, ry) + half) / (Math.min(rx, ry) + half);
