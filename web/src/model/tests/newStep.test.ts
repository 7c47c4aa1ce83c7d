import { describe, expect, it } from "vitest";
import type { Catalogue, Step, Treatment } from "../../api/client";
import { unlikeMade } from "../asMade";
import { asText, copiesOf, freshId, stepsIn } from "../copies";
import { madeStep, placedStep } from "../newStep";
import { searchTreatments } from "../searchTreatments";

const setting = (name: string, label: string, value: unknown) => ({
  name,
  label,
  help: "",
  unit: "fraction",
  default: value,
  keyable: true,
});

const treatment = (kind: string, stage: string, more: Partial<Treatment> = {}): Treatment =>
  ({
    kind,
    stage,
    summary: `${kind} in words`,
    keywords: [],
    settings: [setting("strength", "Strength", 0.5)],
    blend: "normal",
    amount: 1,
    ...more,
  }) as unknown as Treatment;

const GLOW = treatment("glow", "light", {
  keywords: ["haze", "dreamy"],
  blend: "screen",
  amount: 0.8,
});
const TONE = treatment("tone", "colour", {
  settings: [setting("saturation", "Saturation", 0)] as never,
});
const HUE = treatment("hue", "colour", { keywords: ["saturation", "colour shift"] });
const GRAIN = treatment("grain", "film", { summary: "film grain, new on every frame" });
const ALL = [GRAIN, GLOW, HUE, TONE];
const CATALOGUE = {
  stages: ["glass", "light", "colour", "film"],
  treatments: ALL,
  blends: [],
} as unknown as Catalogue;

const kinds = (steps: { treatment: string }[]) => steps.map((s) => s.treatment);

describe("a new step", () => {
  it("is as its treatment is made", () => {
    expect(madeStep(GLOW, "glow-1")).toEqual({
      id: "glow-1",
      treatment: "glow",
      settings: { strength: 0.5 },
      mix: { blend: "screen", amount: 0.8 },
      on: true,
    });
    expect(madeStep(GLOW, "glow-1", { strength: 1 }).settings).toEqual({ strength: 1 });
  });

  it.each(["first to last", "last to first"])("lands at its stage's place, added %s", (way) => {
    const order = way === "first to last" ? [GLOW, TONE, GRAIN] : [GRAIN, TONE, GLOW];
    const steps = order.reduce<Step[]>(
      (row, t) => placedStep(row, madeStep(t, t.kind), CATALOGUE, null),
      [],
    );
    expect(kinds(steps)).toEqual(["glow", "tone", "grain"]);
  });

  it("lands in the open step's row, within its bundle", () => {
    const inner = [madeStep(GLOW, "a"), madeStep(GRAIN, "b")];
    const bundle: Step = {
      ...madeStep(GLOW, "bundle"),
      treatment: "bundle",
      settings: { steps: inner },
    };
    const [found] = placedStep([bundle], madeStep(TONE, "c"), CATALOGUE, "a");
    expect(kinds(found?.settings.steps as Step[])).toEqual(["glow", "tone", "grain"]);
  });
});

describe("copies of steps", () => {
  const glow = madeStep(GLOW, "glow-1");
  const tone: Step = {
    ...madeStep(TONE, "tone-1"),
    mix: { blend: "normal", amount: 1, input: "glow-1" },
  };

  it("have ids of their own, and read each other's copies", () => {
    const made = copiesOf([glow, tone], new Set(["glow-1", "tone-1", "tone-2"]));
    expect(made.map((s) => s.id)).toEqual(["glow-2", "tone-3"]);
    expect(made[1]?.mix.input).toBe("glow-2");
    expect(made[0]?.settings).toEqual(glow.settings);
  });

  it("read what is there alone, or what is so far", () => {
    expect(copiesOf([tone], new Set(["glow-1"]))[0]?.mix.input).toBe("glow-1");
    expect(copiesOf([tone], new Set(["other"]))[0]?.mix.input).toBe("previous");
  });

  it("go into bundles", () => {
    const bundle: Step = {
      ...glow,
      id: "bundle-1",
      treatment: "bundle",
      settings: { steps: [glow, tone] },
    };
    const [made] = copiesOf([bundle], new Set(["bundle-1", "glow-1", "tone-1"]));
    const inner = made?.settings.steps as Step[];
    expect([made?.id, ...inner.map((s) => s.id)]).toEqual(["bundle-2", "glow-2", "tone-2"]);
    expect(inner[1]?.mix.input).toBe("glow-2");
  });

  it("come back from their text, which is a look file", () => {
    expect(stepsIn(asText("Dusk", [glow, tone]))).toEqual([glow, tone]);
    expect(freshId("glow", new Set(["glow-1", "glow-3"]))).toBe("glow-2");
  });

  it.each([
    "",
    "some words",
    "[1, 2]",
    "null",
    '{"format": "other/1", "steps": []}',
    '{"format": "yearning-look/3"}',
  ])("are not found in %j", (text) => expect(stepsIn(text)).toBeNull());
});

describe("a search", () => {
  it.each([
    ["", ["grain", "glow", "hue", "tone"]],
    ["glo", ["glow"]],
    ["dreamy", ["glow"]],
    ["SATURATION", ["hue", "tone"]],
    ["satur", ["hue", "tone"]],
    ["film new", ["grain"]],
    ["colour shift", ["hue"]],
    ["nothing such", []],
  ])("for %j finds %j", (search, found) =>
    expect(searchTreatments(ALL, search).map((t) => t.kind)).toEqual(found),
  );
});

describe("what is not as made", () => {
  const glow = madeStep(GLOW, "glow-1");
  const key = { frame: 3, value: 1, ease: "ease" as const };

  it.each([
    ["what", { settings: { strength: 0.7 } }],
    ["where", { mix: { ...glow.mix, tones: [[0, 0]] } }],
    ["mixed", { mix: { ...glow.mix, blend: "add" } }],
    ["mixed", { mix: { ...glow.mix, amount: 0.5 } }],
    ["mixed", { mix: { ...glow.mix, input: "footage" } }],
    ["when", { bursts: [{ from: 1, to: 2 }] }],
    ["when", { keys: { strength: [key] } }],
  ])("is on the page %s alone", (page, change) => {
    const made = unlikeMade({ ...glow, ...(change as Partial<Step>) }, GLOW);
    expect(Object.entries(made).filter(([, unlike]) => unlike)).toEqual([[page, true]]);
  });

  it("is nothing of a new step", () => {
    expect(Object.values(unlikeMade(glow, GLOW))).toEqual([false, false, false, false]);
  });
});
