import { describe, expect, it } from "vitest";
import type { Setting } from "../../api/client";
import { rangeWords } from "../settingWords";

const setting = (unit: Setting["unit"], more: Partial<Setting> = {}) =>
  ({ name: "a", label: "A", help: "", unit, default: 0, keyable: true, ...more }) as Setting;

describe("what a setting can be", () => {
  it.each([
    [setting("fraction", { soft_minimum: 0, soft_maximum: 1 }), "0 to 100 %"],
    [setting("place", { soft_minimum: 0, soft_maximum: 1 }), "0 to 100 %"],
    [setting("px@1080", { soft_minimum: 2, soft_maximum: 200 }), "2 to 200 px of 1080 lines"],
    [setting("stops", { soft_minimum: -3, soft_maximum: 3 }), "-3 to 3 stops"],
    [setting("seed", { soft_minimum: 0, soft_maximum: 9999 }), "0 to 9999"],
    [setting("choice", { choices: ["white", "black"] }), "white, black"],
    [setting("switch"), "on or off"],
    [setting("points"), ""],
  ])("is said with its unit: %#", (given, words) => {
    expect(rangeWords(given)).toBe(words);
  });
});
