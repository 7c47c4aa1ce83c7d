import type { SteadinessReport } from "../api/client";
import { formatFixed } from "./words";

/** Something that was found at a frame: the light jumps, change is added, or it flashes. */
export interface Found {
  id: string;
  frame: number;
  word: string;
  kind: "jump" | "added" | "flashes";
  value: number;
  step: string | null;
  fault?: SteadinessReport["flashes"][number];
}

/** What was found, in the order of time. */
export function findingsIn(report: SteadinessReport): Found[] {
  const flags: Found[] = report.flags.map((flag) => ({
    id: `flag-${flag.frame}`,
    frame: flag.frame,
    word: flag.why === "jump" ? "Jump at" : "Change at",
    kind: flag.why === "jump" ? "jump" : "added",
    value: flag.value,
    step: flag.step,
  }));
  const flashes: Found[] = report.flashes.map((fault) => ({
    id: `flashes-${fault.kind}-${fault.from}`,
    frame: fault.from,
    word: "Flashes from",
    kind: "flashes",
    value: fault.area,
    step: fault.step,
    fault,
  }));
  return [...flashes, ...flags].sort((a, b) => a.frame - b.frame);
}

/** A part of white in per cent. */
export const percent = (value: number, digits = 2) => `${formatFixed(100 * value, digits)} %`;
