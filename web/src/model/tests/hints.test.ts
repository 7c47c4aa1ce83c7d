import { describe, expect, it } from "vitest";
import type { Step, Treatment } from "../../api/client";
import { shiftSteps } from "../lookTree";
import { orderHints } from "../orderHints";
import { summary } from "../stepSummary";
import { inPlainWords } from "../wording";
import { countWords, fileSize, formatFixed, when } from "../words";

const STAGES: Record<string, string> = {
  sharpen: "glass",
  soften: "glass",
  glow: "light",
  tone: "colour",
  grain: "film",
  weave: "film",
  border: "gate",
  letterbox: "gate",
};
const TREATMENTS = Object.entries(STAGES).map(([kind, stage]) => ({
  kind,
  stage,
  settings: kind === "glow" ? [{ name: "spread", label: "Spread" }] : [],
})) as unknown as Treatment[];

const step = (kind: string, more: Partial<Step> = {}): Step => ({
  id: kind,
  treatment: kind,
  settings: {},
  mix: { blend: "normal", amount: 1 },
  on: true,
  ...more,
});
const row = (...kinds: string[]) => kinds.map((kind) => step(kind));

describe("hints on the order", () => {
  it("are none where light meets things in their order", () => {
    expect(
      orderHints(row("sharpen", "glow", "tone", "grain", "weave", "border"), TREATMENTS),
    ).toEqual([]);
  });

  it.each([
    [["grain", "sharpen"], "sharpen", "sharpens the grain", 0],
    [["glow", "letterbox", "sharpen"], "sharpen", "sharpens the letterbox's edges", 1],
    [["letterbox", "tone"], "tone", "grades the bars too", 0],
    [["border", "weave"], "weave", "sways the border too", 0],
    [["grain", "soften"], "soften", "blurs the grain", 0],
    [["grain", "glow"], "glow", "lets the grain shine", 0],
  ])("%j: %s %s, mended at place %d", (kinds, id, says, to) => {
    const steps = row(...kinds);
    expect(orderHints(steps, TREATMENTS)).toEqual([{ id, says, to }]);
    const from = steps.findIndex((s) => s.id === id);
    const moved = steps.toSpliced(from, 1).toSpliced(to, 0, steps[from] as Step);
    expect(orderHints(moved, TREATMENTS)).toEqual([]);
  });

  it.each([
    ["off itself", [step("grain"), step("sharpen", { on: false })]],
    ["after a step that is off", [step("grain", { on: false }), step("sharpen")]],
    [
      "reading the footage",
      [step("grain"), step("sharpen", { mix: { blend: "normal", amount: 1, input: "footage" } })],
    ],
  ])("are not made of a step %s", (_, steps) => {
    expect(orderHints(steps, TREATMENTS)).toEqual([]);
  });
});

describe("chosen steps moved together", () => {
  const ids = (steps: Step[]) => steps.map((s) => s.id).join("");
  const five = ["a", "b", "c", "d", "e"].map((id) => step("glow", { id }));

  it.each([
    [["c", "d"], -1, "acdbe"],
    [["c", "d"], 1, "abecd"],
    [["a", "c"], -1, "acbde"],
    [["a", "b"], -1, "abcde"],
    [["d", "e"], 1, "abcde"],
    [["b", "e"], 1, "acbde"],
  ] as [string[], 1 | -1, string][])("%j by %d give %s", (chosen, by, order) => {
    expect(ids(shiftSteps(five, new Set(chosen), by))).toBe(order);
  });
});

describe("errors in the page's words", () => {
  const inner = step("tone", { id: "t" });
  const steps = [
    step("glow"),
    step("bundle", { name: "Dusk", settings: { steps: [step("grain"), inner] } }),
  ];

  it.each([
    ["steps[0].settings.spread: at most 400", "Glow: Spread: at most 400"],
    ["steps[0].bursts[1]: it names frame 639", "Glow: burst 2: it names frame 639"],
    ["steps[0].keys.spread: it names frame 9", "Glow: the keys of Spread: it names frame 9"],
    ["steps[0].mix.amount: at most 1", "Glow: its amount: at most 1"],
    ["steps[0]: glow works on more than colours", "Glow: glow works on more than colours"],
    ["steps[1].settings.steps[1].mix.blend: x", "Tone: its blend: x"],
    ["steps[7]: not there", "steps[7]: not there"],
    ["the disk is full", "the disk is full"],
  ])("%s becomes %s", (text, words) => expect(inPlainWords(text, steps, TREATMENTS)).toBe(words));

  it.each([
    [0, "0 steps"],
    [1, "1 step"],
    [2, "2 steps"],
  ])("count %d as %s", (count, words) => expect(countWords(count, "step")).toBe(words));
});

it.each([
  ["plate", "dust-and-hairs.ae443ef472c4.mp4", "dust-and-hairs"],
  ["table", "Old print.0123456789ab.cube", "Old print"],
  ["plate", "", "none chosen yet"],
  ["border", "", "as made"],
])("a %s with the file %j is summed up as %s", (kind, file, words) => {
  const made = { kind, settings: [] } as unknown as Treatment;
  expect(summary(step(kind, { settings: { file } }), made)).toBe(words);
});

describe("numbers in words", () => {
  it.each([
    [12, "1 kB"],
    [48_000, "48 kB"],
    [999_600, "1.0 MB"],
    [3_240_000, "3.2 MB"],
    [1_400_000_000, "1.4 GB"],
  ])("%d bytes are %s", (bytes, words) => expect(fileSize(bytes)).toBe(words));

  it("says the time of today, and the day of others", () => {
    expect(when(Date.now() / 1000)).toMatch(/^today \d\d:\d\d$/);
    expect(when(1_000_000_000)).toMatch(/2001/);
    expect(when(null)).toBe("");
  });

  it.each([
    [-0.0004, 2, "0.00"],
    [-0.4, 0, "0"],
    [-0.006, 2, "-0.01"],
    [0, 1, "0.0"],
    [-10, 0, "-10"],
  ])("%d to %d digits is %s", (value, digits, words) =>
    expect(formatFixed(value, digits)).toBe(words),
  );
});
