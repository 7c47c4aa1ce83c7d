import type { Step } from "../../api/client";
import { findStep } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { OWN } from "../../store/slices/compare";
import { beforeWindow } from "../../store/uncropped";

/** What the wall shows, in words: all of it, and what stands at the two pictures' corners. */
export interface Says {
  all: string;
  base?: string;
  result?: string;
}

/** `turn`: blink shows the comparison just now. */
export function useSays(turn: boolean): Says {
  const look = useBench((s) => s.look);
  const compare = useBench((s) => s.compare);
  const holding = useBench((s) => s.holding);
  const base = useBench((s) => s.base);
  const snapshots = useBench((s) => s.snapshots);
  const gain = useBench((s) => s.gain);
  const examined = useBench((s) => s.examined);
  const open = useBench((s) => s.open);
  const uncropped = useBench((s) => beforeWindow(s) !== null);
  const steps = look?.steps ?? [];

  const baseStep = findStep(steps, base);
  const kept = snapshots.find((s) => s.id === base);
  const baseSays =
    kept && !holding ? kept.name : holding || !baseStep ? "as shot" : `after ${stepName(baseStep)}`;
  const last = steps.filter((s) => s.on).at(-1);
  const resultSays = last ? `after ${stepName(last)}` : "as shot";
  if ((compare === "wipe" || compare === "beside") && !holding)
    return { all: `${baseSays} and ${resultSays}`, base: baseSays, result: resultSays };
  const examinedStep = examined ? findStep(steps, examined.step) : undefined;
  if (examinedStep) {
    const name = stepName(examinedStep);
    const what = {
      weight: `where ${name} shows`,
      layer: `the layer of ${name} alone`,
      highlights: `the highlights that ${name} starts from`,
    }[examined?.show ?? "weight"];
    return { all: what, base: what };
  }
  if (uncropped) {
    const whole = `the whole picture, before ${stepName(findStep(steps, open) as Step)}`;
    return { all: whole, base: whole };
  }
  if (holding || (compare === "blink" && turn)) return { all: baseSays, base: baseSays };
  const own = base === OWN ? findStep(steps, open) : undefined;
  const change = own ? `change by ${stepName(own)} alone` : `change from ${baseSays}`;
  if (compare === "change") return { all: `${change}, × ${gain}`, base: `${change}, × ${gain}` };
  return compare === "plain" ? { all: resultSays } : { all: resultSays, base: resultSays };
}
