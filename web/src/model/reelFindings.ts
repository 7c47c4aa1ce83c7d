import type { LookState, ReelItem, ReelReport } from "../api/client";
import { findStep } from "./lookTree";
import { percent } from "./steadinessFindings";
import { stepName } from "./stepNames";

/** Something that was found in a reel, and from which of its frames on. */
export interface ReelFinding {
  id: string;
  frame: number;
  /** Short, for a list. */
  word: string;
  /** What it is, in a sentence. */
  says: string;
}

const BY = { look: "Looks cause it", cut: "The cuts cause it", footage: "The footage has it" };

/** What was found, in the order of time. */
export function findingsOf(report: ReelReport, items: ReelItem[], looks: LookState[]) {
  const flashes: ReelFinding[] = report.faults.map((fault) => ({
    id: `flashes-${fault.kind}-${fault.from}`,
    frame: fault.from,
    word: "Flashes from",
    says: `For ${fault.seconds.toFixed(1)} s, ${percent(fault.area, 0)} of the picture ${
      fault.kind === "red" ? "flashes red" : "flashes"
    } ${fault.count} times in a second; three are safe. ${BY[fault.by]}.`,
  }));
  const flags: ReelFinding[] = report.shots.flatMap(({ shot, flags }) => {
    const item = items.find(({ id }) => id === shot);
    const look = item?.kind === "shot" ? looks.find(({ id }) => id === item.look) : undefined;
    return flags.map(({ frame, why, value, step }) => {
      const found = findStep(look?.look.steps ?? [], step);
      const name = found ? stepName(found) : step;
      return {
        id: `flag-${frame}`,
        frame,
        word: why === "jump" ? "Jump at" : "Change at",
        says:
          why === "jump"
            ? `The picture ${value > 0 ? "lifts" : "drops"} by ${percent(Math.abs(value))} from one frame to the next. ${name} causes it.`
            : `Change of ${percent(value)} is added to what the footage has. ${name} adds most.`,
      };
    });
  });
  return [...flashes, ...flags].sort((a, b) => a.frame - b.frame);
}
