import { type PointerEvent, useId, useState } from "react";
import type { PathPoint } from "../../../api/client";
import {
  extentOf,
  isJoined,
  movedPath,
  nearestOn,
  roundedOrNot,
  sizedPath,
  svgPath,
  withHandle,
  withPointOn,
} from "../../../model/paths";
import { type MaskShape, perPixel, withinFeather } from "./Feather";
import { Grip } from "./Grip";
import { perCent, placeWords } from "./shapes";

const LINES = 1080;

/** CSS pixels by which the grips of the whole path stand off it. */
const OFF = 26;

/** A drawn path: its points and their handles, and the whole of it moved, sized and turned. */
export function Path({
  shape,
  box,
  set,
  keyed,
  onRemove,
}: MaskShape<"drawn"> & { onRemove: () => void }) {
  const { points, feather } = shape;
  const [chosen, setChosen] = useState<number | null>(null);
  const band = feather * perPixel(box);
  const d = svgPath(points, box);
  const put = (next: PathPoint[], done: boolean) => set(done, ["points", next]);
  const { centre, half } = extentOf(points);
  const x = (v: number) => box.left + v * box.width;
  const y = (v: number) => box.top + v * box.height;
  const right = x(centre[0] + half[0]);
  const bottom = y(centre[1] + half[1]);
  const add = (event: PointerEvent<SVGPathElement>) => {
    const svg = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!svg) return;
    const px = (event.clientX - svg.left - box.left) / box.width;
    const py = (event.clientY - svg.top - box.top) / box.height;
    const { i, t } = nearestOn(points, [px, py], box);
    put(withPointOn(points, i, t), true);
    setChosen(i + 1);
  };
  const at = chosen !== null && chosen < points.length ? chosen : null;
  const name = keyed("points");
  return (
    <>
      {band > 1 && <FeatherLines d={d} band={band} />}
      <path
        d={`M ${right + OFF} ${y(centre[1])} V ${bottom + OFF}`}
        stroke="#ffffff"
        strokeOpacity="0.6"
        strokeDasharray="2 4"
      />
      <path d={d} fill="none" stroke="#000000" strokeOpacity="0.55" strokeWidth="3.5" />
      <path d={d} fill="none" stroke="#ffffff" strokeWidth="1.5" />
      <path
        d={d}
        fill="none"
        stroke="transparent"
        strokeWidth="12"
        pointerEvents="stroke"
        style={{ cursor: "copy" }}
        aria-hidden
        data-path-line
        onPointerDown={add}
      />
      <Grip
        stays
        name={name}
        label={`Move the path: ${placeWords(centre)}`}
        x={x(centre[0])}
        y={y(centre[1])}
        unit={box}
        value={points}
        onDelete={onRemove}
        onMove={(dx, dy, done, from) =>
          put(movedPath(from, [dx / box.width, dy / box.height]), done)
        }
      />
      <Grip
        small
        name={name}
        label={`Size of the path: ${perCent(half[0])} by ${perCent(half[1])}`}
        x={right + OFF}
        y={bottom + OFF}
        unit={box}
        value={points}
        onMove={(dx, dy, done, from) => {
          const start = from;
          const was = extentOf(start).half;
          const by = 1 + (dx / (was[0] * box.width) + dy / (was[1] * box.height)) / 2;
          put(sizedPath(start, [Math.max(by, 0.05), Math.max(by, 0.05)], 0, box), done);
        }}
      />
      <Grip
        small
        name={name}
        label="Turn the path"
        x={right + OFF}
        y={y(centre[1])}
        unit={box}
        value={points}
        onMove={(dx, dy, done, from) => {
          const start = from;
          const out = extentOf(start).half[0] * box.width + OFF;
          const degrees = (Math.atan2(dy, out + dx) * 180) / Math.PI;
          put(sizedPath(start, [1, 1], degrees, box), done);
        }}
      />
      <Grip
        small
        name={keyed("feather")}
        label={`Feather: ${Math.round(feather)} px`}
        x={x(centre[0])}
        y={y(centre[1] - half[1]) - OFF - band / 2}
        unit={{ width: 0, height: LINES * perPixel(box) }}
        value={feather}
        onMove={(_, dy, done, from) =>
          set(done, ["feather", withinFeather(from - (2 * dy) / perPixel(box))])
        }
      />
      {at !== null &&
        (["in", "out"] as const).map((end) => {
          const p = points[at] as PathPoint;
          const [hx, hy] = end === "in" ? [p[2], p[3]] : [p[4], p[5]];
          if (hx === 0 && hy === 0) return null;
          return (
            <g key={end}>
              <line
                x1={x(p[0])}
                y1={y(p[1])}
                x2={x(p[0] + hx)}
                y2={y(p[1] + hy)}
                stroke="#ffffff"
                strokeWidth="1"
              />
              <Grip
                small
                name={name}
                label={`Handle ${end === "in" ? "before" : "after"} point ${at + 1} (Alt breaks it)`}
                x={x(p[0] + hx)}
                y={y(p[1] + hy)}
                unit={box}
                value={[hx, hy]}
                onMove={(dx, dy, done, from, alt) =>
                  put(
                    withHandle(
                      points,
                      at,
                      end,
                      [from[0] + dx / box.width, from[1] + dy / box.height],
                      alt || !isJoined(p),
                    ),
                    done,
                  )
                }
              />
            </g>
          );
        })}
      {points.map((p, i) => (
        <Grip
          // biome-ignore lint/suspicious/noArrayIndexKey: a path's points are told apart by their order
          key={i}
          small
          name={name}
          label={`Point ${i + 1}: ${placeWords([p[0], p[1]])}`}
          x={x(p[0])}
          y={y(p[1])}
          unit={box}
          value={[p[0], p[1]]}
          onHold={() => setChosen(i)}
          onDelete={() => (points.length > 2 ? put(points.toSpliced(i, 1), true) : onRemove())}
          onDoubleClick={() => put(roundedOrNot(points, i), true)}
          onMove={(dx, dy, done, from) =>
            put(
              points.with(i, movedPoint(p, from[0] + dx / box.width, from[1] + dy / box.height)),
              done,
            )
          }
        />
      ))}
    </>
  );
}

/** The two lines between which a path's feather lies: the rims of a stroke as wide, dotted. */
function FeatherLines({ d, band }: { d: string; band: number }) {
  const id = useId();
  const stroke = { d, fill: "none", strokeLinejoin: "round" } as const;
  return (
    <>
      <pattern id={`${id}-dots`} width="4" height="4" patternUnits="userSpaceOnUse">
        <circle cx="1" cy="1" r="1" fill="#ffffff" />
        <circle cx="3" cy="3" r="1" fill="#ffffff" />
      </pattern>
      <mask id={id} maskUnits="userSpaceOnUse" x="-4000" y="-4000" width="12000" height="12000">
        <path {...stroke} stroke="#ffffff" strokeWidth={band + 2.6} />
        <path {...stroke} stroke="#000000" strokeWidth={band} />
      </mask>
      <path
        {...stroke}
        stroke={`url(#${id}-dots)`}
        strokeWidth={band + 2.6}
        mask={`url(#${id})`}
        data-feather-lines
      />
    </>
  );
}

const movedPoint = (p: PathPoint, x: number, y: number): PathPoint => [
  x,
  y,
  p[2],
  p[3],
  p[4],
  p[5],
];
