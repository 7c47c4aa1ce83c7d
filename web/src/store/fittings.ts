import {
  api,
  type Clip,
  checkedFitting,
  type Fitting,
  type Look,
  type LookState,
  type Step,
  unwrap,
} from "../api/client";
import { queryClient } from "../api/queries";
import {
  allParts,
  applyFitting,
  givenBack,
  madeEveryones,
  madeOwn,
  NO_FITTING,
  ownOf,
  type Part,
  partsOf,
  sharingShapes,
} from "../model/fittings";
import { keyedNames } from "../model/keyframes";
import { findStep, withStep } from "../model/lookTree";
import { MASK } from "../model/masks";
import { bench, useBench } from "./bench";
import { edit, giveFittings, inTurn, refit } from "./edits";
import { readAs } from "./history";
import { benchSteps, inWords } from "./look";
import { notice } from "./notices";

/** What is this clip's own: seen, given back, made everyone's, and given to other clips. */

/** The fitting of the clip on the bench. */
export const useFitting = (): Fitting =>
  useBench((s) => (s.clip && s.fittings[s.clip.id]) || NO_FITTING);

/** What of a step is this clip's own. */
export const useOwn = (step: string) =>
  useBench((s) => ownOf(s.clip ? s.fittings[s.clip.id] : undefined, step));

/** Parts of a step that are this clip's own, by name. */
export const useOwnParts = (step: string, names: string[]): Part[] =>
  partsOf(step, useOwn(step)).filter((part) => names.includes(keyedAs(part)));

/** What a part is called where keys are named: `mix.` before fields of the mix. */
export const keyedAs = ({ field, name }: Part) => (field === "mix" ? `mix.${name}` : name);

/** Parts with those that can't stand without them: masks that share shapes go together. */
const mergeParts = (parts: Part[]): Part[] =>
  parts.flatMap((part) =>
    part.field === "mix" && part.name === "mask" ? partsOfLane(part.step, "mask") : [part],
  );

export const giveBack = (parts: Part[]) => refit((fit) => givenBack(fit, mergeParts(parts)));

export const giveAllBack = () => refit((fit) => givenBack(fit, allParts(fit.own)));

export const makeEveryones = (parts: Part[]) =>
  refit((fit) => madeEveryones(fit, mergeParts(parts)));

export const makeOwn = (parts: Part[]) => refit((fit) => madeOwn(fit, parts));

/** A mask is a step's, with the keys of its shapes; so are its bursts; a lane of keys is of some. */
export function partsOfLane(step: string, lane: "mask" | "bursts" | string[]): Part[] {
  if (lane === "bursts") return [{ step, field: "bursts", name: "" }];
  if (lane !== "mask") return lane.map((name): Part => ({ step, field: "keys", name }));
  return sharingShapes(benchSteps(), step).flatMap((id): Part[] => {
    const found = findStep(benchSteps(), id);
    const keyed = found ? keyedNames(found).filter((name) => name.startsWith(MASK)) : [];
    const parts: Part[] = [{ step: id, field: "mix", name: "mask" }, ...partsOfLane(id, keyed)];
    return id === step ? parts : [...parts, { step: id, field: "on", name: "" }];
  });
}

/** Have other clips what is this one's own: in the place of what they had. */
export function copyFittingTo(clips: Clip[]) {
  const { clip, fittings } = bench();
  const own = clip && fittings[clip.id];
  if (own) giveFittings(Object.fromEntries(clips.map((other) => [other.id, own])));
}

/** A look of the project as it stands on a clip; that on the bench as it is there. */
export function lookOn(clip: Clip, look: LookState) {
  const { lookId, shared, fittings } = bench();
  return look.id === lookId && shared
    ? applyFitting(shared, fittings[clip.id])
    : applyFitting(look.look, look.fittings[clip.id]);
}

/** A fitting from a file's text becomes what is this clip's own of the look on the bench. */
export async function takeFitting(text: string) {
  const { clip, lookId } = bench();
  if (!clip || lookId === null)
    throw new Error("a fitting is of a look on a clip; open both, then drop it again");
  await inTurn(async () => {});
  const { fitting, notes } = await checkedFitting(lookId, text);
  const left = notes.map((note) => note.slice(0, note.indexOf(": ")));
  const isLeft = ({ step, field, name }: Part) =>
    left.includes(`steps.${step}`) ||
    left.includes(["steps", step, field, name].filter(Boolean).join("."));
  refit(({ shared }) => givenBack({ shared, own: fitting }, allParts(fitting).filter(isLeft)));
  for (const note of notes) notice("look", `Of the fitting, ${inWords(note)}`);
  if (Object.keys(fitting.input).length) {
    await readAs(clip, { ...clip.reading, ...fitting.input });
    await queryClient.invalidateQueries({ queryKey: ["clips"] });
  }
}

/** Have steps of a look of the project another seed on every clip. */
export async function giveSeedsByClip(look: LookState, steps: Step[]) {
  const lookGiven = (now: Look): Look => ({
    ...now,
    steps: steps.reduce(
      (row, { id }) => withStep(row, id, (step) => ({ ...step, seed_by_clip: true })),
      now.steps,
    ),
  });
  if (look.id === bench().lookId) return edit(lookGiven);
  const params = { path: { look_id: look.id } };
  const body = { revision: look.revision, look: lookGiven(look.look) };
  await unwrap(api.PUT("/api/v1/looks/{look_id}", { params, body })).catch((error) =>
    notice("render", error),
  );
  await queryClient.invalidateQueries({ queryKey: ["looks"] });
}
