import { describe, expect, it } from "vitest";
import type { Setting, Step, Treatment } from "../../api/client";
import { minVisibleSize, withVisibleSizes } from "../visibleSizes";

const pitch = { name: "pitch", default: 8, visible_from: 4 } as unknown as Setting;
const treatments = [{ kind: "halftone", settings: [pitch] }] as unknown as Treatment[];
const print = (settings: Step["settings"], keys = {}) =>
  ({ id: "print", treatment: "halftone", settings, keys }) as unknown as Step;

describe("sizes too fine for small footage", () => {
  it.each([
    [1080, 4],
    [540, 8],
    [272, 16],
    [144, 30],
  ])("of %i lines are under %f px", (lines, minimum) => {
    expect(minVisibleSize(pitch, lines)).toBe(minimum);
  });

  it("are enlarged, written or as made; what is keyed or large enough stays", () => {
    expect(withVisibleSizes(print({}), treatments, 272).settings.pitch).toBe(16);
    expect(withVisibleSizes(print({ pitch: 6 }), treatments, 272).settings.pitch).toBe(16);
    for (const kept of [print({ pitch: 40 }), print({ pitch: 6 }, { pitch: [] })])
      expect(withVisibleSizes(kept, treatments, 272)).toBe(kept);
    const fine = print({ pitch: 6 });
    expect(withVisibleSizes(fine, treatments, 1080)).toBe(fine);
  });
});
