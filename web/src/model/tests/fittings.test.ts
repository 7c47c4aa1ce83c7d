import { describe, expect, it } from "vitest";
import cases from "../../../../tests/data/fittings.json";
import type { Fitting, Look, Step } from "../../api/client";
import {
  allParts,
  applyFitting,
  givenBack,
  madeEveryones,
  madeOwn,
  NO_FITTING,
  type Part,
  type Scope,
  sharingShapes,
  split,
} from "../fittings";
import { withValue } from "../keyframes";
import { withStep } from "../lookTree";

const key = (frame: number, value: number) => ({ frame, value, ease: "straight" as const });
const shape = (id: string) => ({
  id,
  kind: "ellipse",
  join: "add" as const,
  strength: 1,
  invert: false,
  feather: 0,
});

const step = (id: string, more: Partial<Step> = {}): Step => ({
  id,
  treatment: "glow",
  settings: { spread: 60, gain: 1, track: "" },
  mix: { blend: "screen", amount: 0.75, mask: [] },
  keys: {},
  bursts: [],
  on: true,
  ...more,
});

const SHARED: Look = {
  format: "yearning-look/3",
  name: "Shared",
  steps: [
    step("a"),
    step("b", {
      keys: { spread: [key(0, 20)], "mix.mask.face.feather": [key(0, 5)] },
      bursts: [{ from: 3, to: 5, ramp: 0 }],
      mix: { blend: "screen", amount: 0.75, mask: [shape("face")] },
    }),
    step("all", {
      treatment: "bundle",
      settings: { steps: [step("in")] as unknown as Step["settings"][string] },
    }),
  ],
} as Look;

type Change = (step: Step) => Step;
const editFitting = (scope: Scope, own: Fitting, id: string, change: Change) => {
  const before = applyFitting(SHARED, own);
  const after = { ...before, steps: withStep(before.steps, id, change) };
  const fit = split({ shared: SHARED, own }, before, after, scope);
  expect(applyFitting(fit.shared, fit.own)).toEqual(after); // nothing is lost on the way
  return fit;
};

const places = (own: Fitting) =>
  allParts(own).map(({ step: id, field, name }) => [id, field, name].filter(Boolean).join("."));

const spread: Change = (s) => ({ ...s, settings: { ...s.settings, spread: 9 } });
const keyed: Change = (s) => ({ ...s, keys: { ...s.keys, spread: [key(4, 9)] } });
const burst: Change = (s) => ({ ...s, bursts: [{ from: 1, to: 2, ramp: 0 }] });
const masked: Change = (s) => ({ ...s, mix: { ...s.mix, mask: [shape("lamp")] } });
const off: Change = (s) => ({ ...s, on: false });
const riding: Change = (s) => ({ ...s, settings: { ...s.settings, track: "t.json" } });

const CASES: [string, string, Change, string[], string[]][] = [
  ["a value", "a", spread, [], ["a.settings.spread"]],
  ["a value in a bundle", "in", spread, [], ["in.settings.spread"]],
  ["keys where there are none", "a", keyed, ["a.keys.spread"], ["a.keys.spread"]],
  ["keys that are shared", "b", keyed, [], ["b.keys.spread"]],
  ["bursts where there are none", "a", burst, ["a.bursts"], ["a.bursts"]],
  ["bursts that are shared", "b", burst, [], ["b.bursts"]],
  ["a mask where there is none", "a", masked, ["a.mix.mask"], ["a.mix.mask"]],
  ["a track where there is none", "a", riding, ["a.settings.track"], ["a.settings.track"]],
  ["a step switched off", "a", off, [], ["a.on"]],
];

describe("a look on a clip", () => {
  it.each(Object.entries(cases.cases))("stands as the server has it: %s", (_, { own, stands }) => {
    const shared = cases.shared as unknown as Look;
    expect(applyFitting(shared, own as unknown as Fitting)).toEqual(stands);
  });
});

describe("an edit on one clip", () => {
  it.each(CASES)("%s goes where it belongs", (_, id, change, every, alone) => {
    expect(places(editFitting("every", NO_FITTING, id, change).own)).toEqual(every);
    const fit = editFitting("this", NO_FITTING, id, change);
    expect(places(fit.own)).toEqual(alone);
    expect(fit.shared).toEqual(SHARED);
  });

  it("has a new step be every clip's, as it is", () => {
    const after = { ...SHARED, steps: [...SHARED.steps, step("new")] } as Look;
    const fit = split({ shared: SHARED, own: NO_FITTING }, SHARED, after, "every");
    expect(fit.shared).toEqual(after);
    expect(fit.own.steps).toEqual({});
  });

  it("of what is the clip's own changes nothing for others, whatever a change goes to", () => {
    const { own } = editFitting("this", NO_FITTING, "a", spread);
    const again = editFitting("every", own, "a", (s) => ({
      ...s,
      settings: { ...s.settings, spread: 5 },
    }));
    expect(again.shared).toEqual(SHARED);
    expect(again.own.steps.a?.settings.spread).toBe(5);
  });

  it("makes a mask of its own with the keys that its shapes have", () => {
    const wider: Change = (s) => ({
      ...s,
      mix: { ...s.mix, mask: [...(s.mix.mask ?? []), shape("lamp")] },
    });
    const fit = editFitting("this", NO_FITTING, "b", wider);
    expect(places(fit.own)).toEqual(["b.mix.mask", "b.keys.mix.mask.face.feather"]);
  });

  it("adds a step in this clip's shapes that is off on others", () => {
    const { own } = editFitting("every", NO_FITTING, "a", masked);
    const before = applyFitting(SHARED, own);
    const { kind: _, ...same } = { ...shape("lamp"), same_as: "a.lamp" };
    const back = step("back", { mix: { blend: "normal", amount: 1, mask: [same] } });
    const after = { ...before, steps: [...before.steps, back] };
    const fit = split({ shared: SHARED, own }, before, after, "every");
    expect(applyFitting(fit.shared, fit.own)).toEqual(after);
    const shared = fit.shared.steps.at(-1);
    expect([shared?.on, shared?.mix.mask]).toEqual([false, []]);
    const parts = sharingShapes(after.steps, "a").map(
      (id): Part => ({ step: id, field: "mix", name: "mask" }),
    );
    expect(parts.map((p) => p.step)).toEqual(["a", "back"]);
    const on: Part = { step: "back", field: "on", name: "" };
    const all = madeEveryones(fit, [...parts, on]);
    expect(all.shared).toEqual(after);
    const again = madeOwn(all, parts);
    expect(applyFitting(again.shared, again.own)).toEqual(after);
    expect(again.shared.steps.at(-1)?.on).toBe(false);
  });

  it("moves a control between its own keys", () => {
    const { own } = editFitting("every", NO_FITTING, "a", keyed);
    const fit = editFitting("every", own, "a", (s) => withValue(s, "spread", 30, 8));
    expect(fit.own.steps.a?.keys.spread).toHaveLength(2);
    expect(fit.shared).toEqual(SHARED);
  });

  it("takes shared keys away for itself alone, and its own so that nothing is left", () => {
    const unkeyed: Change = (s) => ({ ...s, keys: {} });
    expect(editFitting("this", NO_FITTING, "b", unkeyed).own.steps.b?.keys.spread).toEqual([]);
    const { own } = editFitting("every", NO_FITTING, "a", keyed);
    expect(places(editFitting("every", own, "a", unkeyed).own)).toEqual([]);
  });

  it("takes a step out with what is its own", () => {
    const { own } = editFitting("this", NO_FITTING, "a", spread);
    const before = applyFitting(SHARED, own);
    const after = { ...before, steps: before.steps.slice(1) };
    const fit = split({ shared: SHARED, own }, before, after, "every");
    expect([places(fit.own), fit.shared.steps.length]).toEqual([[], 2]);
  });
});

describe("what is a clip's own", () => {
  const { own } = editFitting("this", editFitting("this", NO_FITTING, "a", spread).own, "a", burst);
  const part: Part = { step: "a", field: "settings", name: "spread" };

  it("is given back, one thing or all", () => {
    expect(places(givenBack({ shared: SHARED, own }, [part]).own)).toEqual(["a.bursts"]);
    const none = givenBack({ shared: SHARED, own }, allParts(own));
    expect(applyFitting(none.shared, none.own)).toEqual(SHARED);
  });

  it("is made everyone's, and the clip's look stays", () => {
    const fit = madeEveryones({ shared: SHARED, own }, [part]);
    expect(fit.shared.steps[0]?.settings).toMatchObject({ spread: 9 });
    expect(applyFitting(fit.shared, fit.own)).toEqual(applyFitting(SHARED, own));
  });

  it("may be what all had until then: bursts, keys and a mask", () => {
    const parts: Part[] = [
      { step: "b", field: "bursts", name: "" },
      { step: "b", field: "keys", name: "spread" },
      { step: "b", field: "mix", name: "mask" },
    ];
    const fit = madeOwn({ shared: SHARED, own: NO_FITTING }, parts);
    expect(applyFitting(fit.shared, fit.own)).toEqual(SHARED);
    const left = fit.shared.steps[1];
    expect([left?.bursts, left?.keys, left?.mix.mask]).toEqual([[], {}, []]);
  });
});
