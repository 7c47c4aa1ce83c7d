import { chakra } from "@chakra-ui/react";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { Stroke } from "../../../api/client";
import { isWhole, LINES, otherKind, type StrokeKind } from "../../../model/strokes";
import { useBench } from "../../../store/bench";
import { draw, findMatte, glimpse, useLifting } from "../../../store/lifting";
import type { Point, Size } from "./shapes";

const Rect = chakra("rect");

/** CSS pixels from the last point to the next. */
const APART = 2;

/** How often what is lifted out is seen anew while it is found. */
const TIMES = 20;

const INKS: Record<StrokeKind, string> = {
  this: "#1b7f86",
  "not this": "#c2412d",
  around: "#ffffff",
};

/** Strokes drawn over the footage, in which what is not lifted out is dim. */
export function Strokes({ size }: { size: Size }) {
  const frame = useBench((s) => s.frame);
  const { strokes, kind, width, seen, known, finding, of } = useLifting();
  const [drawn, setDrawn] = useState<Stroke | null>(null);
  const [at, setAt] = useState<Point | null>(null);
  const surface = useRef<SVGRectElement>(null);
  const height = Math.round((size.height * window.devicePixelRatio) / 2) * 2;
  const part = finding?.running ? Math.floor((TIMES * finding.done) / finding.total) : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is lifted out depends on them all
  useEffect(() => glimpse(frame, height), [of, frame, height, strokes, known, part]);
  useEffect(() => surface.current?.focus(), []);

  const pointUnder = (event: PointerEvent<SVGRectElement>): Point => {
    const svg = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return [
      (event.clientX - (svg?.left ?? 0)) / size.width,
      (event.clientY - (svg?.top ?? 0)) / size.height,
    ];
  };
  const onPointerMove = (event: PointerEvent<SVGRectElement>) => {
    const point = pointUnder(event);
    setAt(point);
    setDrawn((stroke) => {
      const last = stroke?.points.at(-1);
      if (!stroke || !last) return stroke;
      const away = Math.hypot(
        (point[0] - last[0]) * size.width,
        (point[1] - last[1]) * size.height,
      );
      return away < APART ? stroke : { ...stroke, points: [...stroke.points, point] };
    });
  };
  const thick = (stroke: Stroke) => (stroke.width / LINES) * size.height;
  const shown = strokes.filter((stroke) => stroke.frame === frame);
  return (
    <>
      {seen && (
        <image
          href={seen.url}
          width={size.width}
          height={size.height}
          preserveAspectRatio="none"
          data-lifted={seen.frame}
        />
      )}
      {[...shown, ...(drawn ? [drawn] : [])].map((stroke, i) => (
        <Line
          // biome-ignore lint/suspicious/noArrayIndexKey: strokes are told apart by their order
          key={i}
          stroke={stroke}
          size={size}
          thick={thick(stroke)}
          strong={stroke === drawn}
        />
      ))}
      {at && kind !== "around" && (
        <circle
          cx={at[0] * size.width}
          cy={at[1] * size.height}
          r={Math.max(((width / LINES) * size.height) / 2, 1)}
          fill="none"
          stroke="#ffffff"
          strokeWidth="1.2"
        />
      )}
      <Rect
        ref={surface}
        tabIndex={-1}
        data-strokes
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
          if (event.key !== "Enter") return;
          event.preventDefault();
          event.stopPropagation();
          void findMatte();
        }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          const wanted = event.altKey && kind !== "around" ? otherKind(kind) : kind;
          setDrawn({ frame, kind: wanted, points: [pointUnder(event)], width });
        }}
        onPointerMove={onPointerMove}
        onPointerLeave={() => setAt(null)}
        onPointerUp={() => {
          if (drawn && isWhole(drawn)) draw(drawn);
          setDrawn(null);
        }}
        onPointerCancel={() => setDrawn(null)}
      />
    </>
  );
}

function Line({
  stroke: { kind, points },
  size,
  thick,
  strong,
}: {
  stroke: Stroke;
  size: Size;
  thick: number;
  strong: boolean;
}) {
  const places = points.map(
    ([x, y]) => `${(x * size.width).toFixed(1)},${(y * size.height).toFixed(1)}`,
  );
  if (kind === "around") {
    const path = (stroke: string, width: number, dashes?: string) => (
      <polygon
        points={places.join(" ")}
        fill="none"
        stroke={stroke}
        strokeOpacity={dashes ? 1 : 0.5}
        strokeWidth={width}
        strokeDasharray={dashes}
        strokeLinejoin="round"
      />
    );
    return (
      <>
        {path("#000000", 3)}
        {path(INKS.around, 1.5, "2 4")}
      </>
    );
  }
  return (
    <polyline
      points={(places.length > 1 ? places : [...places, ...places]).join(" ")}
      fill="none"
      stroke={INKS[kind]}
      strokeOpacity={strong ? 0.85 : 0.4}
      strokeWidth={Math.max(thick, 1.5)}
      strokeLinecap="round"
      strokeLinejoin="round"
      data-stroke={kind}
    />
  );
}
