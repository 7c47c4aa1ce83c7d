import { describe, expect, it } from "vitest";
import type { Setting, Step, Treatment } from "../../api/client";
import {
  allSteps,
  bundleSteps,
  enclosingBundles,
  findStep,
  innerSteps,
  readable,
  rowOf,
  withoutReadsOf,
  withRow,
  withStep,
} from "../lookTree";
import { belowOf, inputOf } from "../stepInput";
import { applies, summary } from "../stepSummary";

const step = (id: string, more: Partial<Step> = {}): Step => ({
  id,
  treatment: "glow",
  settings: {},
  mix: { blend: "normal", amount: 1 },
  on: true,
  ...more,
});
const bundle = (id: string, steps: Step[]): Step =>
  step(id, { treatment: "bundle", settings: { steps } });
const reads = (id: string, of: string) =>
  step(id, { mix: { blend: "normal", amount: 1, input: of } });
const ids = (steps: Step[]) => steps.map((s) => s.id);

/** a, the bundle B of (b1, the bundle C of c1 and c2, b2), d which reads b1. */
const tree = [
  step("a"),
  bundle("B", [step("b1"), bundle("C", [step("c1"), step("c2")]), step("b2")]),
  reads("d", "b1"),
];

describe("a look's steps", () => {
  it("stand in the order of their work, a bundle after what it holds", () => {
    expect(ids(allSteps(tree))).toEqual(["a", "b1", "c1", "c2", "C", "b2", "B", "d"]);
  });

  it("are found at any depth, in their row, with the bundles around them", () => {
    expect(findStep(tree, "c2")?.id).toBe("c2");
    expect(findStep(tree, "gone")).toBeUndefined();
    expect(ids(rowOf(tree, "c2"))).toEqual(["c1", "c2"]);
    expect(ids(rowOf(tree, "a"))).toEqual(["a", "B", "d"]);
    expect(ids(enclosingBundles(tree, "c1"))).toEqual(["B", "C"]);
  });

  it("are changed without touching the others, or the tree that was", () => {
    const changed = withStep(tree, "c1", (s) => ({ ...s, on: false }));
    expect(findStep(changed, "c1")?.on).toBe(false);
    expect(findStep(tree, "c1")?.on).toBe(true);
    expect(changed[0]).toBe(tree[0]);
    const shorter = withRow(tree, "c1", (row) => row.filter((s) => s.id !== "c1"));
    expect(ids(rowOf(shorter, "c2"))).toEqual(["c2"]);
  });

  it("read what is so far once the step they read is gone", () => {
    expect(findStep(withoutReadsOf(tree, new Set(["b1"])), "d")?.mix.input).toBe("previous");
    expect(findStep(withoutReadsOf(tree, new Set(["a"])), "d")?.mix.input).toBe("b1");
  });

  it("may read what is done before them, but not what they hold", () => {
    expect(ids(readable(tree, "B"))).toEqual(["a"]);
    expect(ids(readable(tree, "d"))).toEqual(["a", "b1", "c1", "c2", "C", "b2", "B"]);
  });

  it("become one where the first of them stood", () => {
    const row = bundleSteps(
      [step("a"), step("b"), step("c"), step("d")],
      new Set(["b", "d"]),
      "new",
    );
    expect(ids(row)).toEqual(["a", "new", "c"]);
    expect(ids(innerSteps(row[1] as Step))).toEqual(["b", "d"]);
  });

  it.each([
    ["a", "footage", "footage"],
    ["b1", "a", "a"],
    ["c1", "b1", "b1"],
    ["b2", "C", "C"],
    ["d", "B", "b1"],
  ])("%s stands on %s and reads %s", (id, below, input) => {
    expect(belowOf(id, tree)).toBe(below);
    expect(inputOf(id, tree)).toBe(input);
  });
});

describe("a step in a few words", () => {
  const setting = (name: string, more: Partial<Setting>): Setting =>
    ({ name, label: name, unit: "fraction", default: 0, ...more }) as Setting;
  const treatment = {
    kind: "glow",
    settings: [
      setting("mode", { unit: "choice", default: "soft", choices: ["soft", "hard"] }),
      setting("spread", { unit: "px@1080", default: 20 }),
      setting("edge", { default: 0.5, visible_if: { mode: ["hard"] } }),
    ],
  } as unknown as Treatment;
  const glow = step("g", { settings: { mode: "soft", spread: 24.6, edge: 0.5 } });

  it("names its choices and sizes", () => {
    expect(summary(glow, treatment)).toBe("soft, 25 px");
  });

  it("counts keys and bursts where it changes with time", () => {
    const keys = { spread: [{ frame: 0, value: 1, ease: "straight" as const }] };
    expect(summary({ ...glow, keys }, treatment)).toBe("1 keyed");
    const bursts = [0, 20].map((from) => ({ from, to: from + 5, ramp: 0 }));
    expect(summary({ ...glow, keys, bursts }, treatment)).toBe("1 keyed, 2 bursts");
  });

  it("counts what a bundle holds, and is empty of what is not known", () => {
    expect(summary(bundle("B", [glow, glow]), undefined)).toBe("2 steps");
    expect(summary(glow, undefined)).toBe("");
  });

  it("shows a setting where the others' values let it have an effect", () => {
    const edge = treatment.settings[2] as Setting;
    expect(applies(edge, glow)).toBe(false);
    expect(applies(edge, { ...glow, settings: { ...glow.settings, mode: "hard" } })).toBe(true);
  });
});
