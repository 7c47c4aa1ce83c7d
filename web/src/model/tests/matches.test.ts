import { describe, expect, it } from "vitest";
import type { Look, Step } from "../../api/client";
import { innerSteps } from "../lookTree";
import { matchAmount, withMatch, withoutMatch } from "../matches";

const step = (id: string, treatment: string, settings: Step["settings"] = {}): Step => ({
  id,
  treatment,
  settings,
  mix: { blend: "normal", amount: 1 },
  on: true,
});

const grade = (stops: number): Step =>
  step("match", "bundle", { steps: [step("match-light", "exposure", { stops })] });

const foundMatch = (stops: number, place: "before" | "after" = "before") => ({
  step: grade(stops),
  place,
});

const LOOK: Look = { format: "yearning-look/3", name: "Shared", steps: [step("g", "glow")] };
const ids = (look: Look) => look.steps.map((s) => s.id);

describe("a grade in a look", () => {
  it("stands before the look, or after it", () => {
    expect(ids(withMatch(LOOK, foundMatch(1), 0.5))).toEqual(["match", "g"]);
    expect(ids(withMatch(LOOK, foundMatch(1, "after"), 0.5))).toEqual(["g", "match"]);
    expect(ids(withoutMatch(withMatch(LOOK, foundMatch(1), 0.5), "match"))).toEqual(["g"]);
  });

  it("gives way to another where it stands, mixed and switched as it was", () => {
    const moved = { ...LOOK, steps: [...LOOK.steps, { ...grade(1), on: false }] };
    const next = withMatch(moved, foundMatch(2), 0.25);
    expect(ids(next)).toEqual(["g", "match"]);
    const [, kept] = next.steps;
    expect(kept?.on).toBe(false);
    expect(kept?.mix.amount).toBe(0.25);
    expect(innerSteps(kept as Step)[0]?.settings.stops).toBe(2);
  });

  it("takes the place of a bundle that was changed", () => {
    const emptied = { ...LOOK, steps: [step("match", "bundle", { steps: [] })] };
    expect(innerSteps(withMatch(emptied, foundMatch(2), 1).steps[0] as Step)).toHaveLength(1);
  });

  it("is known by its settings, and says how much of it there is", () => {
    expect(matchAmount(withMatch(LOOK, foundMatch(1), 0.75), foundMatch(1))).toBe(0.75);
    expect(matchAmount(withMatch(LOOK, foundMatch(1), 0.75), foundMatch(2))).toBeNull();
    expect(matchAmount(LOOK, foundMatch(1))).toBeNull();
  });
});
