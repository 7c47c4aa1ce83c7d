import { Box } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Value } from "../../api/client";
import { bench, useBench } from "../../store/bench";
import { hexOf, valueAt } from "../../store/readings";

const EVERY_MS = 90;

/** Told where the pointer is, in parts of the picture; null when it is elsewhere. */
const watchers = new Set<(at: { x: number; y: number } | null) => void>();
export function pointAt(at: { x: number; y: number } | null) {
  for (const watcher of watchers) watcher(at);
}

const code = (part: number) => Math.round(16 + 219 * part);
const percent = (part: number) => (100 * part).toFixed(0);

/** What the result holds under the pointer: per cent, 8-bit codes, hue. */
export function UnderPointer() {
  const [value, setValue] = useState<Value | null>(null);
  useEffect(() => {
    let wanted: { x: number; y: number } | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const ask = async () => {
      timer = undefined;
      const at = wanted;
      if (!at || bench().moving || bench().playing) return;
      const found = await valueAt(at, null).catch(() => null);
      if (wanted) setValue(found);
    };
    const point = (at: { x: number; y: number } | null) => {
      wanted = at;
      if (!at) setValue(null);
      else timer ??= setTimeout(() => void ask(), EVERY_MS);
    };
    watchers.add(point);
    return () => {
      watchers.delete(point);
      clearTimeout(timer);
    };
  }, []);
  useEffect(
    () =>
      useBench.subscribe((now, before) => {
        if (now.frame !== before.frame || now.look !== before.look) setValue(null);
      }),
    [],
  );
  return (
    <Box
      flex="none"
      fontSize="11px"
      lineHeight="1.3"
      color="wallMute"
      role="status"
      aria-label="Under the pointer"
      minH="72px"
    >
      {value ? (
        <>
          <Box>{[value.red, value.green, value.blue].map(percent).join(" ")} %</Box>
          <Box>luma {percent(value.luma)} %</Box>
          <Box>code {code(value.luma)}</Box>
          <Box>{value.hue === null ? "grey" : `hue ${value.hue.toFixed(0)}°`}</Box>
          <Box>{hexOf(value)}</Box>
        </>
      ) : (
        "Hold B for the footage"
      )}
    </Box>
  );
}
