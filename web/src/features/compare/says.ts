import { findStep } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { OWN } from "../../store/slices/compare";

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
  const weighed = useBench((s) => s.weighed);
  const open = useBench((s) => s.open);
  const steps = look?.steps ?? [];

  const baseStep = findStep(steps, base);
  const kept = snapshots.find((s) => s.id === base);
  const baseSays =
    kept && !holding ? kept.name : holding || !baseStep ? "as shot" : `after ${stepName(baseStep)}`;
  const last = steps.filter((s) => s.on).at(-1);
  const resultSays = last ? `after ${stepName(last)}` : "as shot";
  if ((compare === "wipe" || compare === "beside") && !holding)
    return { all: `${baseSays} and ${resultSays}`, base: baseSays, result: resultSays };
  const weighedStep = weighed ? findStep(steps, weighed) : undefined;
  if (weighedStep) {
    const where = `where ${stepName(weighedStep)} shows`;
    return { all: where, base: where };
  }
  if (holding || (compare === "blink" && turn)) return { all: baseSays, base: baseSays };
  const own = base === OWN ? findStep(steps, open) : undefined;
  const change = own ? `change by ${stepName(own)} alone` : `change from ${baseSays}`;
  if (compare === "change") return { all: `${change}, × ${gain}`, base: `${change}, × ${gain}` };
  return compare === "plain" ? { all: resultSays } : { all: resultSays, base: resultSays };
}
