import { describe, expect, it } from "vitest";
import type { Setting, SteadinessReport, Step } from "../../api/client";
import { settingsOfGrade } from "../grades";
import { inNumbers, shownAs } from "../shownNumbers";
import { findingsIn, percent } from "../steadinessFindings";
import { capitalize, stepName } from "../stepNames";
import { timecode } from "../timecode";
import { fileSize } from "../words";

const report = {
  flags: [
    { frame: 90, why: "jump", value: 0.02, step: "exposure" },
    { frame: 12, why: "change", value: 0.01, step: "grain" },
  ],
  flashes: [{ kind: "general", from: 40, to: 60, area: 0.5, rate: 6, step: "levels" }],
} as unknown as SteadinessReport;

describe("what steadiness found", () => {
  it("stands in the order of time, whatever it is", () => {
    expect(findingsIn(report).map((f) => [f.frame, f.kind, f.step])).toEqual([
      [12, "added", "grain"],
      [40, "flashes", "levels"],
      [90, "jump", "exposure"],
    ]);
  });

  it("has an id of its own each, and words for its button", () => {
    const found = findingsIn(report);
    expect(new Set(found.map((f) => f.id)).size).toBe(3);
    expect(found.map((f) => f.word)).toEqual(["Change at", "Flashes from", "Jump at"]);
    expect(found[1]?.fault?.to).toBe(60);
  });

  it("is nothing of a steady clip", () => {
    expect(findingsIn({ ...report, flags: [], flashes: [] })).toEqual([]);
  });

  it.each([
    [0.0247, 2, "2.47 %"],
    [0.5, 0, "50 %"],
    [0, 2, "0.00 %"],
  ])("%d with %d digits is %s", (value, digits, words) => {
    expect(percent(value, digits)).toBe(words);
  });
});

it.each([
  [0, 24, "00:00:00:00"],
  [23, 24, "00:00:00:23"],
  [24, 24, "00:00:01:00"],
  [1500, 25, "00:01:00:00"],
  [4320, 24, "00:03:00:00"],
  [90_000, 25, "01:00:00:00"],
  [29, 29.97, "00:00:00:29"],
  [30, 29.97, "00:00:01:00"],
])("frame %d at %d a second is at %s", (frame, rate, words) => {
  expect(timecode(frame, rate)).toBe(words);
});

it("a step is called by its treatment, a bundle by its name where it has one", () => {
  const step = { treatment: "glow", name: "", settings: {} } as unknown as Step;
  expect(stepName(step)).toBe("Glow");
  expect(stepName({ ...step, treatment: "bundle" })).toBe("Bundle");
  expect(stepName({ ...step, treatment: "bundle", name: "Grade" })).toBe("Grade");
  expect(capitalize("")).toBe("");
});

it("a grade becomes a balance step's settings", () => {
  const grade = { slope: [1, 2, 3], offset: [0, 0, 0.1], power: [1, 1, 1], saturation: 0.8 };
  expect(settingsOfGrade(grade as never)).toEqual({ mode: "cdl", ...grade });
});

describe("sizes of files", () => {
  it.each([
    [0, "1 kB"],
    [512_600, "513 kB"],
    [999_499, "999 kB"],
    [999_500, "1.0 MB"],
    [3_240_000, "3.2 MB"],
    [1_440_000_000, "1.4 GB"],
  ])("%d bytes are %s", (bytes, words) => {
    expect(fileSize(bytes)).toBe(words);
  });
});

describe("a setting's number", () => {
  const setting = (unit: string, soft_maximum: number) => ({ unit, soft_maximum }) as Setting;

  it.each([
    ["fraction", 1, 0.754, "75 %"],
    ["fraction", 0.2, 0.0754, "7.5 %"],
    ["px@1080", 20, 2.04, "2.0 px"],
    ["px@1080", 200, 52.4, "52 px"],
    ["per second", 20, 1.54, "1.5 /s"],
    ["per second", 60, 24.4, "24 /s"],
    ["count", 20, 8, "8.0"],
    ["count", 21, 8, "8"],
    ["stops", 3, 1.25, "1.25 stops"],
  ])("in %s up to %d: %d is shown as %s", (unit, most, value, words) => {
    expect(inNumbers(setting(unit, most), value)).toBe(words);
  });

  it("is stepped by what it is shown in", () => {
    expect(shownAs(setting("stops", 3)).step).toBe(0.05);
    expect(shownAs(setting("factor", 4)).step).toBe(0.01);
    expect(shownAs(setting("fraction", 0.2))).toEqual({ scale: 100, step: 0.1, digits: 1 });
  });

  it("is empty of what is no number", () => {
    expect(inNumbers(setting("count", 3), "three")).toBe("");
  });
});
