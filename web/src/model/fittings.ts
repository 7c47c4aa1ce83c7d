import type { Fitting, Look, Step, StepFitting } from "../api/client";
import { allSteps, innerSteps, isBundle, withInner } from "./lookTree";
import { MASK, shapesOf } from "./masks";
import { same } from "./same";

/** What of a look holds for one clip alone, over what all clips share: laid on it, and told apart. */

/** What a change goes to: what all clips share, or what is the clip's own. */
export type Scope = "every" | "this";

export const NO_FITTING: Fitting = { format: "yearning-fitting/2", steps: {}, input: {} };

const NOTHING_OWN: StepFitting = { settings: {}, mix: {}, keys: {}, bursts: null, on: null };

export const ownOf = (own: Fitting | undefined, id: string): StepFitting =>
  own?.steps[id] ?? NOTHING_OWN;

/** One thing of a step that can be a clip's own; `name` is empty for bursts and for on and off. */
export interface Part {
  step: string;
  field: "settings" | "mix" | "keys" | "bursts" | "on";
  name: string;
}

/** What of a step is the clip's own. */
export function partsOf(step: string, own: StepFitting): Part[] {
  const named = (["settings", "mix", "keys"] as const).flatMap((field) =>
    Object.keys(own[field]).map((name): Part => ({ step, field, name })),
  );
  const whole = (["bursts", "on"] as const).filter((field) => own[field] !== null);
  return [...named, ...whole.map((field): Part => ({ step, field, name: "" }))];
}

export const allParts = (own: Fitting): Part[] =>
  Object.entries(own.steps).flatMap(([id, step]) => partsOf(id, step));

/** Whether keys of a name stand under a value, or a mask, that is the clip's own. */
const isCovered = (own: StepFitting, name: string) =>
  name in own.settings ||
  (name.startsWith("mix.") && name.slice(4) in own.mix) ||
  (name.startsWith(MASK) && "mask" in own.mix);

/** Keys as they are without keys of the clip's own. */
const keysBelow = (step: Step, own: StepFitting, name: string) =>
  isCovered(own, name) ? [] : (step.keys?.[name] ?? []);

function fittedStep(step: Step, own: StepFitting): Step {
  const names = [...new Set([...Object.keys(step.keys ?? {}), ...Object.keys(own.keys)])];
  const keys = names.flatMap((name) => {
    const pinned = own.keys[name] ?? keysBelow(step, own, name);
    return pinned.length ? [[name, pinned]] : [];
  });
  return {
    ...step,
    settings: { ...step.settings, ...own.settings },
    mix: { ...step.mix, ...own.mix },
    keys: Object.fromEntries(keys),
    bursts: own.bursts ?? step.bursts,
    on: own.on ?? step.on,
  };
}

/** The look as it stands on the clip of a fitting. */
export function applyFitting(look: Look, own: Fitting | undefined): Look {
  if (!own || Object.keys(own.steps).length === 0) return look;
  const row = (steps: Step[]): Step[] =>
    steps.map((step) => {
      const mine = own.steps[step.id];
      const stands = mine ? fittedStep(step, mine) : step;
      return isBundle(stands) ? withInner(stands, row(innerSteps(stands))) : stands;
    });
  return { ...look, steps: row(look.steps) };
}

/** What all clips share, and what is one clip's own. */
export interface Fit {
  shared: Look;
  own: Fitting;
}

/** Tell apart what an edit of a look, as it stands on a clip, changes for all clips and for that.
 *
 * What is the clip's own already stays so; so do keys, bursts, masks and tracks where all clips
 * share none, and masks that have shapes of one that is; the rest goes where `scope` says. A step that
 * is new is every clip's; one that shows in this clip's shapes alone is off on others.
 */
export function split({ shared, own }: Fit, before: Look, after: Look, scope: Scope): Fit {
  const was = new Map(allSteps(before.steps).map((step) => [step.id, step]));
  const all = new Map(allSteps(shared.steps).map((step) => [step.id, step]));
  const steps: Fitting["steps"] = {};
  const row = (now: Step[]): Step[] =>
    now.map((step) => {
      const [old, base] = [was.get(step.id), all.get(step.id)];
      const known = old && base && old.treatment === step.treatment;
      const ownShapes = sourcesOf(step).some((id) => "mask" in ownOf(own, id).mix);
      let kept = step;
      if (!known && ownShapes) {
        kept = { ...step, mix: { ...step.mix, mask: [] }, on: false };
        steps[step.id] = { ...NOTHING_OWN, mix: { mask: step.mix.mask ?? [] }, on: step.on };
      }
      if (known) {
        const mine = ownOf(own, step.id);
        const apart =
          step === old
            ? { kept: base, mine }
            : splitStep(base, mine, old, step, { scope, ownShapes });
        kept = apart.kept;
        if (partsOf(step.id, apart.mine).length) steps[step.id] = apart.mine;
      }
      return isBundle(step) ? withInner(kept, row(innerSteps(step))) : kept;
    });
  return { shared: { ...after, steps: row(after.steps) }, own: { ...own, steps } };
}

/** The steps whose shapes a step's are the same as. */
const sourcesOf = (step: Step): string[] =>
  shapesOf(step).flatMap(({ same_as }) =>
    same_as ? [same_as.slice(0, same_as.lastIndexOf("."))] : [],
  );

interface Goes {
  scope: Scope;
  /** The mask has shapes of one that is this clip's own. */
  ownShapes: boolean;
}

function splitStep(base: Step, own: StepFitting, old: Step, now: Step, goes: Goes) {
  const { scope } = goes;
  const mine: StepFitting = {
    ...own,
    settings: { ...own.settings },
    mix: { ...own.mix },
    keys: { ...own.keys },
  };
  const kept: Step = { ...now, settings: { ...now.settings }, mix: { ...now.mix }, keys: {} };

  for (const field of ["settings", "mix"] as const) {
    const shared: Record<string, unknown> = { ...base[field] };
    const was: Record<string, unknown> = { ...old[field] };
    for (const [name, value] of Object.entries(now[field])) {
      if (field === "settings" && name === "steps" && isBundle(now)) continue;
      const key = field === "mix" ? `mix.${name}` : name;
      const isMask = field === "mix" && name === "mask";
      const starts =
        (isMask && goes.ownShapes) || (isOwnAtFirst(field, name) && isUnset(shared[name]));
      const isOwn = name in own[field] || key in own.keys || scope === "this" || starts;
      const changed = !same(value, was[name]);
      if (changed && isOwn) Object.assign(mine[field], { [name]: value });
      if (!changed || isOwn) Object.assign(kept[field], { [name]: shared[name] });
    }
  }
  if (isUnset(base.mix.mask) && isUnset(mine.mix.mask)) delete mine.mix.mask;

  const names = [base.keys, old.keys, now.keys, own.keys].flatMap((k) => Object.keys(k ?? {}));
  for (const name of new Set(names)) {
    const [wanted, shared] = [now.keys?.[name] ?? [], base.keys?.[name] ?? []];
    const below = keysBelow(base, mine, name);
    const isOwn =
      name in own.keys || isCovered(mine, name) || scope === "this" || shared.length === 0;
    const changed = !same(wanted, old.keys?.[name] ?? []);
    if (changed && !isOwn) Object.assign(kept.keys ?? {}, { [name]: wanted });
    else {
      if (shared.length) Object.assign(kept.keys ?? {}, { [name]: shared });
      if (same(wanted, below)) delete mine.keys[name];
      else mine.keys[name] = wanted;
    }
  }

  if (!same(now.bursts ?? [], old.bursts ?? []) || own.bursts !== null) {
    const isOwn = own.bursts !== null || scope === "this" || !base.bursts?.length;
    if (isOwn) {
      mine.bursts = same(now.bursts ?? [], base.bursts ?? []) ? null : (now.bursts ?? []);
      kept.bursts = base.bursts;
    }
  } else kept.bursts = base.bursts;

  if (now.on === old.on || own.on !== null || scope === "this") {
    if (now.on !== old.on) mine.on = now.on;
    kept.on = base.on;
  }
  return { kept, mine };
}

/** Settings that name places in one clip. */
const isOwnAtFirst = (field: "settings" | "mix", name: string) =>
  field === "mix" ? name === "mask" : name === "track";

const isUnset = (value: unknown) =>
  value === undefined || value === null || value === "" || same(value, []);

/** The steps whose masks share shapes with a step's, itself among them. */
export function sharingShapes(steps: Step[], id: string): string[] {
  const found = new Set([id]);
  for (let before = 0; before < found.size; ) {
    before = found.size;
    for (const step of allSteps(steps)) {
      const sources = sourcesOf(step);
      if (found.has(step.id)) for (const source of sources) found.add(source);
      if (sources.some((source) => found.has(source))) found.add(step.id);
    }
  }
  return [...found];
}

const isOf = (part: Part, parts: Part[]) => parts.some((other) => same(part, other));

/** A fitting with those parts of it alone. */
export function onlyParts(own: Fitting, keep: (part: Part) => boolean): Fitting {
  const steps = Object.entries(own.steps).flatMap(([id, step]) => {
    const parts = partsOf(id, step).filter(keep);
    const fieldsNamed = (field: "settings" | "mix" | "keys") =>
      Object.fromEntries(
        Object.entries(step[field]).filter(([name]) => isOf({ step: id, field, name }, parts)),
      );
    const has = (field: Part["field"]) => parts.some((part) => part.field === field);
    const left = {
      settings: fieldsNamed("settings"),
      mix: fieldsNamed("mix"),
      keys: fieldsNamed("keys"),
      bursts: has("bursts") ? step.bursts : null,
      on: has("on") ? step.on : null,
    };
    return parts.length ? [[id, left] as const] : [];
  });
  return { ...own, steps: Object.fromEntries(steps) };
}

/** The clip has those parts as all clips have them. */
export const givenBack = ({ shared, own }: Fit, parts: Part[]): Fit => ({
  shared,
  own: onlyParts(own, (part) => !isOf(part, parts)),
});

/** All clips have those parts as this one has them, unless they have others of their own. */
export const madeEveryones = ({ shared, own }: Fit, parts: Part[]): Fit => ({
  shared: applyFitting(
    shared,
    onlyParts(own, (part) => isOf(part, parts)),
  ),
  own: onlyParts(own, (part) => !isOf(part, parts)),
});

/** Lanes and masks that all clips share become this clip's, and no other's. */
export function madeOwn({ shared, own }: Fit, parts: Part[]): Fit {
  const steps = { ...own.steps };
  const row = (now: Step[]): Step[] =>
    now.map((step) => {
      const mine = parts.filter((part) => part.step === step.id);
      if (!mine.length) return isBundle(step) ? withInner(step, row(innerSteps(step))) : step;
      const before = ownOf(own, step.id);
      const taken: StepFitting = { ...before, mix: { ...before.mix }, keys: { ...before.keys } };
      const kept: Step = { ...step, mix: { ...step.mix }, keys: { ...step.keys } };
      for (const { field, name } of mine) {
        if (field === "keys" && step.keys?.[name]?.length) {
          taken.keys[name] = step.keys[name];
          delete kept.keys?.[name];
        }
        if (field === "bursts" && step.bursts?.length) {
          taken.bursts = step.bursts;
          kept.bursts = [];
        }
        if (field === "mix" && name === "mask") {
          taken.mix.mask = step.mix.mask;
          kept.mix.mask = [];
          if (sourcesOf(step).length === shapesOf(step).length) {
            taken.on = before.on ?? step.on;
            kept.on = false;
          }
          for (const keyed of Object.keys(step.keys ?? {}).filter((k) => k.startsWith(MASK))) {
            taken.keys[keyed] = step.keys?.[keyed] ?? [];
            delete kept.keys?.[keyed];
          }
        }
      }
      steps[step.id] = taken;
      return isBundle(kept) ? withInner(kept, row(innerSteps(kept))) : kept;
    });
  return { shared: { ...shared, steps: row(shared.steps) }, own: { ...own, steps } };
}
