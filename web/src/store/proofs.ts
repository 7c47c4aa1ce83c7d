import { create } from "zustand";
import {
  api,
  type Clip,
  type Look,
  type LookState,
  type Setting,
  type SettingValue,
  type Sheet,
  type Shot,
  type Step,
  type TriedValues,
  unwrap,
} from "../api/client";
import { queryClient } from "../api/queries";
import { applyFitting, type Scope } from "../model/fittings";
import { findStep } from "../model/lookTree";
import { keyedShape } from "../model/masks";
import { firstSpan, type Subject, withVariant } from "../model/proofs";
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

export const closeSheet = () => useProofs.setState({ sheet: null });

/** The frame at hand. */
const here = (): Shot[] => {
  const { clip, frame } = bench();
  return clip ? [{ clip: clip.id, frame }] : [];
};

/** The frame at hand of the clip on the bench; the middle of another. */
export const middleOf = (clip: Clip): Shot => ({
  clip: clip.id,
  frame: bench().clip?.id === clip.id ? bench().frame : Math.floor(clip.frames / 2),
});

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
const NO_SPAN = [
  "colour",
  "tones",
  "ramp",
  "plate",
  "track",
  "file",
  "tints",
  "blocks",
  "lobes",
  "marks",
  "grain",
];

/** What a sheet tries of a control: a span of its numbers, or all its choices; null if neither. */
function valuesToTry(found: Step, name: string): TriedValues | null {
  const step = found.id;
  if (name === "mix.blend")
    return { kind: "choices", step, name, values: [...(bench().catalogue?.blends ?? [])] };
  const setting = settingOf(step, name);
  const value = found.settings[name];
  if (setting?.unit === "choice")
    return { kind: "choices", step, name, values: choicesOf(setting) };
  if (setting?.unit === "switch") return { kind: "choices", step, name, values: [false, true] };
  if (setting?.unit === "seed") {
    const values = Array.from({ length: SEEDS }, (_, n) => Number(value) + n);
    return { kind: "choices", step, name, values };
  }
  const isNumber = setting && !NO_SPAN.includes(setting.unit) && !keyedShape(found, name);
  if (isNumber && (name === "mix.amount" || typeof value === "number"))
    return { kind: "span", step, name, span: firstSpan(setting) };
  return null;
}

/** Open a sheet of a control. */
export function proofControl(step: string, name: string) {
  const found = findStep(bench().look?.steps ?? [], step);
  if (!found) return;
  const values = valuesToTry(found, name);
  if (values) return openSheet(values);
  notice("look", "A proof sheet is of a number, a choice, a switch, a seed or a blend mode.");
}

/** What of a step may be tried across another of its settings, in words. */
export function acrossChoices({ step, name }: TriedValues): [name: string, label: string][] {
  const found = findStep(bench().look?.steps ?? [], step);
  if (!found) return [];
  const own = treatmentOf(found)?.settings ?? [];
  const all: [string, string][] = [
    ...own.map((s): [string, string] => [s.name, s.label]),
    ["mix.amount", "Amount"],
    ["mix.blend", "Blend"],
  ];
  return all.filter(([other]) => other !== name && valuesToTry(found, other));
}

/** Have another setting of the step across the sheet; or the shots again. */
export function tryAcross(rows: TriedValues, name: string | null) {
  const found = findStep(bench().look?.steps ?? [], rows.step);
  const columns = name && found ? valuesToTry(found, name) : null;
  const shots = useProofs.getState().sheet?.shots ?? here();
  if (!columns) return setSheet({ subject: rows, shots });
  setSheet({ subject: { kind: "pair", rows: fewer(rows), columns: fewer(columns) }, shots });
}

/** TriedValues of each of two settings, at first. */
const OF_EACH = 4;

const fewer = (values: TriedValues): TriedValues =>
  values.kind === "span"
    ? { ...values, span: { ...values.span, count: OF_EACH } }
    : { ...values, values: values.values.slice(0, 2 * OF_EACH) };

const choicesOf = ({ choices }: Setting) => (choices ?? []) as (string | number)[];

/** Another value of a step's. */
export interface Change {
  step: string;
  name: string;
  value: SettingValue;
}

/** Take values on a clip: for that alone, or as a change on the bench goes to every clip. */
export function takeValues(changes: Change[], shot: Shot, scope: Scope) {
  const change = (look: Look) =>
    changes.reduce((l, c) => withVariant(l, c.step, c.name, c.value, shot.frame), look);
  editOn(shot.clip, change, scope);
}

/** Every clip has a value from now on, and none another of its own. */
export function takeValueForEvery({ step, name, value }: Change, shot: Shot) {
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
  return shared && applyFitting(shared, fittings[clip]);
};

/** The sheets that are kept beside a look. */
export const keptSheets = (lookId: number) => ({
  queryKey: ["proof sheets", lookId],
  queryFn: () =>
    unwrap(
      api.GET("/api/v1/looks/{look_id}/proof-sheets", { params: { path: { look_id: lookId } } }),
    ),
});

/** Keep a sheet beside the look of the bench, under a name; one of that name gives way. */
export async function keepSheet(name: string, sheet: Sheet) {
  const { lookId } = bench();
  if (lookId === null) return;
  const kept = await queryClient.ensureQueryData(keptSheets(lookId));
  const id = kept.find((each) => each.name === name)?.id ?? crypto.randomUUID();
  const params = { path: { look_id: lookId, sheet_id: id } };
  await changedSheets(lookId, () =>
    unwrap(
      api.PUT("/api/v1/looks/{look_id}/proof-sheets/{sheet_id}", { params, body: { name, sheet } }),
    ),
  );
}

export async function dropSheet(id: string) {
  const { lookId } = bench();
  if (lookId === null) return;
  const params = { path: { look_id: lookId, sheet_id: id } };
  await changedSheets(lookId, () =>
    unwrap(api.DELETE("/api/v1/looks/{look_id}/proof-sheets/{sheet_id}", { params })),
  );
}

async function changedSheets(lookId: number, change: () => Promise<unknown>) {
  try {
    await change();
    await queryClient.invalidateQueries({ queryKey: keptSheets(lookId).queryKey });
  } catch (error) {
    notice("look", error);
  }
}
