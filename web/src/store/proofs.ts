import { create } from "zustand";
import type { Clip, Look, LookState, Setting, SettingValue } from "../api/client";
import { queryClient } from "../api/queries";
import { fitted, type Scope } from "../model/fittings";
import { findStep } from "../model/lookTree";
import { keyedShape } from "../model/masks";
import { firstSpan, type Sheet, type Shot, type Subject, withVariant } from "../model/proofs";
import { bench } from "./bench";
import { editOn, editShared } from "./edits";
import { keyedAs } from "./fittings";
import { treatmentOf } from "./look";
import { openLook } from "./looks";
import { returnToClip } from "./memory";
import { notice } from "./notices";
import { goToPlace } from "./places";
import { goBackTo } from "./snapshots";

/** The proof sheet that is open. */
export const useProofs = create<{ sheet: Sheet | null }>(() => ({ sheet: null }));

export const setSheet = (sheet: Sheet) => useProofs.setState({ sheet });

/** The frame at hand. */
const here = (): Shot[] => {
  const { clip, frame } = bench();
  return clip ? [{ clip: clip.id, frame }] : [];
};

/** Open a sheet of a subject, on the frame at hand. */
export function openSheet(subject: Subject, shots: Shot[] = here()) {
  setSheet({ subject, shots });
  goToPlace("proofs");
}

/** A setting of a step, or its amount, as the catalogue describes it. */
export function settingOf(step: string, name: string): Setting | undefined {
  const found = findStep(bench().look?.steps ?? [], step);
  const treatment = found && treatmentOf(found);
  if (name === "mix.amount") return { ...AMOUNT, default: treatment?.amount ?? 1 } as Setting;
  return treatment?.settings.find((s) => s.name === name);
}

const AMOUNT = {
  name: "mix.amount",
  label: "Amount",
  unit: "fraction",
  soft_minimum: 0,
  soft_maximum: 1,
  minimum: 0,
  maximum: 1,
  help: "",
  keyable: true,
};

/** How many seeds a sheet has. */
const SEEDS = 12;

/** Units whose values are numbers that a span reaches. */
const NO_SPAN = ["colour", "tones", "ramp", "plate", "track", "file", "tints", "blocks", "marks"];

/** Open a sheet of a control: a span of its numbers, or all its choices. */
export function proofControl(step: string, name: string) {
  const { look, catalogue } = bench();
  const found = look && findStep(look.steps, step);
  if (!found) return;
  if (name === "mix.blend")
    return openSheet({ kind: "choices", step, name, values: [...(catalogue?.blends ?? [])] });
  const setting = settingOf(step, name);
  const value = found.settings[name];
  if (setting?.unit === "choice")
    return openSheet({ kind: "choices", step, name, values: choicesOf(setting) });
  if (setting?.unit === "switch")
    return openSheet({ kind: "choices", step, name, values: [false, true] });
  if (setting?.unit === "seed") {
    const values = Array.from({ length: SEEDS }, (_, n) => Number(value) + n);
    return openSheet({ kind: "choices", step, name, values });
  }
  const isNumber = setting && !NO_SPAN.includes(setting.unit) && !keyedShape(found, name);
  if (isNumber && (name === "mix.amount" || typeof value === "number"))
    return openSheet({ kind: "span", step, name, span: firstSpan(setting) });
  notice("look", "A proof sheet is of a number, a choice, a switch, a seed or a blend mode.");
}

const choicesOf = ({ choices }: Setting) => (choices ?? []) as (string | number)[];

/** Take a value on a clip: for that alone, or as a change on the bench goes to every clip. */
export function takeValue(
  { step, name }: { step: string; name: string },
  value: SettingValue,
  shot: Shot,
  scope: Scope,
) {
  editOn(shot.clip, (look) => withVariant(look, step, name, value, shot.frame), scope);
}

/** Every clip has a value from now on, and none another of its own. */
export function takeValueForEvery(
  { step, name }: { step: string; name: string },
  value: SettingValue,
  shot: Shot,
) {
  editShared(
    (look) => withVariant(look, step, name, value, shot.frame),
    (part) => part.step === step && keyedAs(part) === name,
  );
}

/** Open a look of the project on the bench, on the clip of a shot. */
export async function takeLook(look: LookState, shot: Shot) {
  await openLook(look.id);
  await takeShot(shot);
}

export function takeSnapshot(id: string) {
  goBackTo(id);
}

/** Open a shot on the bench. */
export async function takeShot(shot: Shot) {
  const clips = queryClient.getQueryData<Clip[]>(["clips"]) ?? [];
  const clip = clips.find((c) => c.id === shot.clip);
  if (clip && bench().clip?.id !== clip.id) await returnToClip(clip);
  goToPlace("bench");
}

/** The look of the bench, as it stands on a clip. */
export const benchLookOn = (clip: number): Look | null => {
  const { shared, fittings } = bench();
  return shared && fitted(shared, fittings[clip]);
};
