import { describe, expect, it } from "vitest";
import type { Step } from "../../api/client";
import { belongingsOf } from "../gauges";

const step = (treatment: string, settings = {}) => ({ treatment, settings }) as unknown as Step;
const words = (gauge: unknown, ...steps: Step[]) => belongingsOf(gauge, steps).map((b) => b.word);

describe("what belongs to a film gauge", () => {
  it("is more the smaller it is, and nothing of a free grain", () => {
    expect(words(8)).toEqual(["Softness", "Sway", "Flutter", "4:3 frame"]);
    expect(words(35)).toEqual(["Softness", "Sway"]);
    expect(words("free")).toEqual([]);
    const [small, large] = [8, 35].map((gauge) => belongingsOf(gauge, [])[1]?.settings.down);
    expect(Number(small)).toBeGreaterThan(Number(large));
  });

  it("is not offered again; a mist is no film's softness", () => {
    expect(words(16, step("weave"), step("crop"))).toEqual(["Softness", "Flutter"]);
    expect(words(16, step("soften", { shape: "gaussian" }))).toContain("Softness");
    expect(words(16, step("soften", { shape: "film" }))).not.toContain("Softness");
  });
});
