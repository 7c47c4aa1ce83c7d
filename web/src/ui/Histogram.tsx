import { chakra } from "@chakra-ui/react";

const INKS = ["ink", "#b3261e", "#2e7d32", "#1a4fa3"];
const LIT = ["#ffffff", "#ff8a80", "#8fdc95", "#90b4ff"];
const NAMES = ["luma", "red", "green", "blue"];

/** How often each value comes, as a filled line; a part of another drawing. */
export function HistogramPath({
  counts,
  channel,
  width,
  height,
  light,
}: {
  counts: number[][] | undefined;
  channel: number;
  width: number;
  height: number;
  /** On a dark ground. */
  light?: boolean;
}) {
  const row = counts?.[channel];
  if (!row) return null;
  // the ends hold all that lies beyond: they must not make the rest look like nothing
  const highest = Math.max(1, ...row.slice(1, -1));
  const tall = (n: number) => height * (1 - Math.min(Math.sqrt(n / highest), 1));
  const line = row.map((n, i) => `${(width * (i + 0.5)) / row.length},${tall(n)}`).join(" ");
  return (
    <chakra.polygon
      points={`0,${height} ${line} ${width},${height}`}
      fill={light ? LIT[channel] : INKS[channel]}
      opacity={light ? 0.4 : 0.22}
      pointerEvents="none"
      data-histogram={NAMES[channel]}
    />
  );
}
