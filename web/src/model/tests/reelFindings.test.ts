import { describe, expect, it } from "vitest";
import type { LookState, ReelItem, ReelReport } from "../../api/client";
import { findingsOf } from "../reelFindings";

const items = [{ kind: "shot", id: "a", look: 7 }] as unknown as ReelItem[];
const step = { id: "g", treatment: "glow", settings: {} };
const looks = [{ id: 7, look: { steps: [step] } }] as unknown as LookState[];
const flag = (frame: number, why: string, value: number) => ({ frame, why, value, step: "g" });
const report: ReelReport = {
  passes: false,
  faults: [
    { from: 20, to: 43, seconds: 1, kind: "red", area: 0.5, count: 4, shots: ["a"], by: "cut" },
  ],
  shots: [
    {
      shot: "a",
      added: 0,
      added_steady: 0,
      flags: [flag(9, "jump", -0.02), flag(31, "added", 0.01)],
    },
    { shot: "gone", added: 0, added_steady: 0, flags: [flag(40, "jump", 0.01)] },
  ],
  most_added: 0.005,
  most_jump: 0.004,
};

describe("what is found in a reel", () => {
  const found = findingsOf(report, items, looks);

  it("stands in the order of time", () => {
    expect(found.map(({ frame, word }) => [frame, word])).toEqual([
      [9, "Jump at"],
      [20, "Flashes from"],
      [31, "Change at"],
      [40, "Jump at"],
    ]);
  });

  it("is said with what causes it, by its name where that is known", () => {
    const says = found.map((each) => each.says);
    expect(says[0]).toMatch("drops by 2.00 % from one frame to the next. Glow causes it.");
    expect(says[1]).toMatch("50 % of the picture flashes red 4 times in a second");
    expect(says[1]).toMatch("The cuts cause it.");
    expect(says[2]).toMatch("Glow adds most.");
    expect(says[3]).toMatch("lifts by 1.00 % from one frame to the next. g causes it.");
  });
});
