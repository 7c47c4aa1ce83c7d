import { chakra } from "@chakra-ui/react";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { PathPoint, Step } from "../../../api/client";
import type { FrameMap } from "../../../model/frameMaps";
import { mappedPath, svgPath } from "../../../model/paths";
import { setState } from "../../../store/bench";
import { addPath } from "../../../store/masks";
import type { Box, Point } from "./shapes";

const Rect = chakra("rect");

/** CSS pixels about the first point in which a click closes the path. */
const CLOSES = 12;

/** A path being drawn: a click is a corner, a drag a round point; the first point, or Enter, closes it. */
export function NewPath({ step, box, map }: { step: Step; box: Box; map: FrameMap | null }) {
  const [points, setPoints] = useState<PathPoint[]>([]);
  const held = useRef<number | null>(null);
  const surface = useRef<SVGRectElement>(null);
  const close = () => {
    if (points.length >= 3) addPath(step, map ? mappedPath(points, map.back) : points);
  };
  useEffect(() => () => setState({ drawing: false }), []);
  useEffect(() => {
    surface.current?.focus();
  }, []);
  const pointUnder = (event: PointerEvent<SVGRectElement>): Point => {
    const svg = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    const [left, top] = [svg?.left ?? 0, svg?.top ?? 0];
    return [
      (event.clientX - left - box.left) / box.width,
      (event.clientY - top - box.top) / box.height,
    ];
  };
  const first = points[0];
  return (
    <>
      <Rect
        ref={surface}
        tabIndex={-1}
        data-new-path
        x={-2000}
        y={-2000}
        width={8000}
        height={8000}
        fill="transparent"
        pointerEvents="all"
        cursor="crosshair"
        css={{ outline: "none" }}
        style={{ touchAction: "none" }}
        onKeyDown={(event) => {
          if (event.key === "Enter") close();
          else if (event.key === "Backspace" || event.key === "Delete")
            setPoints((p) => p.slice(0, -1));
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const at = pointUnder(event);
          const near =
            first &&
            Math.hypot((at[0] - first[0]) * box.width, (at[1] - first[1]) * box.height) < CLOSES;
          if (near && points.length >= 3) return close();
          held.current = points.length;
          setPoints([...points, [...at, 0, 0, 0, 0]]);
        }}
        onPointerMove={(event) => {
          const i = held.current;
          if (i === null) return;
          const at = pointUnder(event);
          setPoints((all) => {
            const p = all[i];
            if (!p) return all;
            const [dx, dy] = [at[0] - p[0], at[1] - p[1]];
            if (Math.hypot(dx * box.width, dy * box.height) < 4) return all;
            return all.with(i, [p[0], p[1], -dx, -dy, dx, dy]);
          });
        }}
        onPointerUp={() => {
          held.current = null;
        }}
      />
      <path
        d={svgPath(points, box, false)}
        fill="none"
        stroke="#000000"
        strokeOpacity="0.55"
        strokeWidth="3.5"
      />
      <path d={svgPath(points, box, false)} fill="none" stroke="#ffffff" strokeWidth="1.5" />
      {points.map(([x, y], i) => (
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: a path's points are told apart by their order
          key={i}
          cx={box.left + x * box.width}
          cy={box.top + y * box.height}
          r={i === 0 ? 7 : 4.5}
          fill="#262524"
          stroke="#ffffff"
          strokeWidth="2"
        />
      ))}
    </>
  );
}
