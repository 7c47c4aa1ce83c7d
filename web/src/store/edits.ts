import { busyWith } from "../api/busy";
import {
  api,
  type Fitting,
  type Look,
  NO_LOOK,
  Refusal,
  type SettingValue,
  type Step,
  type Treatment,
  unwrap,
} from "../api/client";
import { freshId } from "../model/copies";
import {
  applyFitting,
  type Fit,
  NO_FITTING,
  onlyParts,
  type Part,
  type Scope,
  split,
} from "../model/fittings";
import { withValue } from "../model/keyframes";
import {
  allSteps,
  bundleSteps,
  findStep,
  innerSteps,
  rowOf,
  shiftSteps,
  withoutReadsOf,
  withRow,
  withStep,
} from "../model/lookTree";
import { withOwnShapes } from "../model/masks";
import { madeStep, placedStep } from "../model/newStep";
import { bench, setState } from "./bench";
import { applyLookState, inWords } from "./look";
import { notice } from "./notices";
import { pause } from "./player";
import type { Deleted } from "./slices/document";
import { forgetHere, keepBoth, keepHere, keptHere } from "./unkept";

/** The draft is what the page shows; it is sent on, one revision after the other. */
let unsent = false;
let last: Promise<unknown> = Promise.resolve();

/** Do what changes a look when all that was begun before it has been done. */
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = busyWith(last.then(work));
  last = done.catch(() => undefined);
  return done;
}

/** Change the draft. With `send` false it is only shown: a control is still moving. */
export function edit(change: (look: Look) => Look, send = true) {
  const { look, shared, clip, scope } = bench();
  if (!look || !shared) return;
  const next = change(look);
  if (next !== look) {
    const fit = clip ? split(fitOn(clip.id), look, next, scope) : { shared: next, own: NO_FITTING };
    const fittings = clip ? withFitting(clip.id, fit.own) : bench().fittings;
    setState({ look: next, shared: fit.shared, fittings, moving: !send });
    unsent = true;
  }
  if (send) {
    setState({ moving: false });
    if (unsent) void inTurn(sendDraft);
  }
}

/** The fittings with another of a clip. */
function withFitting(clip: number, own: Fitting): Record<string, Fitting> {
  const { [clip]: _, ...others } = bench().fittings;
  return Object.keys(own.steps).length ? { ...others, [clip]: own } : others;
}

/** What all clips share of the look, and what is a clip's own. */
function fitOn(clip: number): Fit {
  const { shared, fittings } = bench();
  return { shared: shared ?? NO_LOOK, own: fittings[clip] ?? NO_FITTING };
}

/** Change the look as it stands on a clip, whichever is on the bench. */
export function editOn(clip: number, change: (look: Look) => Look, scope: Scope) {
  const { shared, own } = fitOn(clip);
  const before = applyFitting(shared, own);
  const fit = split({ shared, own }, before, change(before), scope);
  setState(lookState(fit.shared, withFitting(clip, fit.own)));
  sendNow();
}

/** Change the look that all clips share, and let go of what single clips have of that. */
export function editShared(change: (look: Look) => Look, isOf: (part: Part) => boolean) {
  const { shared, fittings } = bench();
  if (!shared) return;
  const left = Object.entries(fittings).flatMap(([clip, own]) => {
    const kept = onlyParts(own, (part) => !isOf(part));
    return Object.keys(kept.steps).length ? [[clip, kept] as const] : [];
  });
  setState(lookState(change(shared), Object.fromEntries(left)));
  sendNow();
}

/** Change what is shared, and what is the clip's own, together. */
export function refit(change: (fit: Fit) => Fit) {
  const { shared, clip } = bench();
  if (!shared || !clip) return;
  const fit = change(fitOn(clip.id));
  setState(lookState(fit.shared, withFitting(clip.id, fit.own)));
  sendNow();
}

/** Other clips have what is this one's own, too. */
export function giveFittings(given: Record<string, Fitting>) {
  const { shared, fittings } = bench();
  if (!shared) return;
  setState(lookState(shared, { ...fittings, ...given }));
  sendNow();
}

/** A look, and its fittings, as the page has them. */
function lookState(shared: Look, fittings: Record<string, Fitting>) {
  const look = applyFitting(shared, fittings[String(bench().clip?.id)]);
  return { shared, fittings, look };
}

function sendNow() {
  unsent = true;
  void inTurn(sendDraft);
}

/** Whether a deletion is what was done last. */
export const isLast = (deleted: Deleted | null): deleted is Deleted =>
  deleted !== null && deleted.before === bench().revision;

/** Bring the look back that was deleted last. */
export async function restoreDeleted() {
  const { deleted } = bench();
  if (!deleted) return;
  const params = { path: { look_id: deleted.id } };
  try {
    applyLookState(await unwrap(api.POST("/api/v1/looks/{look_id}/restore", { params })));
    setState({ deleted: null });
  } catch (error) {
    notice("look", error);
  }
}

/** How long until an edit that the server could not keep is sent again, first and at the most. */
const AGAIN_MS = 2000;
const AGAIN_AT_MOST_MS = 60_000;

let again: ReturnType<typeof setTimeout> | undefined;
let wait = AGAIN_MS;

async function sendDraft() {
  const { shared: look, fittings, lookId, revision } = bench();
  if (!look || lookId === null || !unsent || bench().readOnly) return;
  unsent = false;
  clearTimeout(again);
  try {
    const made = await unwrap(
      api.PUT("/api/v1/looks/{look_id}", {
        params: { path: { look_id: lookId } },
        body: { revision, look, fittings },
      }),
    );
    const { revision: now, digest, undoes, redoes } = made;
    setState({ revision: now, digest, undoes, redoes, unkept: null });
    forgetHere(lookId);
    wait = AGAIN_MS;
  } catch (error) {
    const status = error instanceof Refusal ? error.status : 0;
    // one that the server fails at may be the cause of it: that is asked ever less often
    wait = status === 500 ? Math.min(2 * wait, AGAIN_AT_MOST_MS) : AGAIN_MS;
    if (status === 0 || status >= 500) return sendLater(lookId, inWords(error));
    if (status === 409) await keepBoth(look, fittings).catch((lost) => notice("look", lost));
    else notice("look", inWords(error));
    forgetHere(lookId);
    setState({ unkept: null });
    await reload(lookId).catch((lost) => notice("look", lost));
  }
}

/** Keep the draft here, and send it again until the server has it. */
function sendLater(lookId: number, reason: string) {
  const { shared: look, fittings, revision } = bench();
  if (!look || bench().lookId !== lookId) return;
  unsent = true;
  keepHere(lookId, { look, fittings, revision });
  setState({ unkept: reason });
  again = setTimeout(() => void inTurn(sendDraft), wait);
}

/** Load a look; an edit that the server did not have yet goes on from there. */
export async function reload(lookId: number) {
  const path = { look_id: lookId };
  const state = await unwrap(api.GET("/api/v1/looks/{look_id}", { params: { path } }));
  applyLookState(state);
  await takeUp(lookId, state.revision);
}

/** Take up an edit of a look that the server did not have when the page was left. */
export async function takeUp(lookId: number, revision: number) {
  const kept = keptHere(lookId);
  if (!kept) return;
  if (kept.revision === revision) {
    setState(lookState(kept.look, kept.fittings));
    return sendNow();
  }
  await keepBoth(kept.look, kept.fittings).catch((lost) => notice("look", lost));
  forgetHere(lookId);
}

/** A step that holds nothing. */
const NONE = { treatment: "", settings: {} } as Step;

export function changeStep(id: string, change: (step: Step) => Step, send = true) {
  edit((look) => ({ ...look, steps: withStep(look.steps, id, change) }), send);
}

/** Give a step values; those that keys pin get a key at the play head. */
export function changeValues(id: string, values: [string, SettingValue | null][], send = true) {
  const { look, playing, frame } = bench();
  const pinned = findStep(look?.steps ?? [], id)?.keys ?? {};
  if (playing && values.some(([name]) => pinned[name]?.length)) pause();
  changeStep(
    id,
    (step) => values.reduce((s, [name, value]) => withValue(s, name, value, frame), step),
    send,
  );
}

/** The ids that steps of the look have. */
export const takenIds = () => new Set(allSteps(bench().look?.steps ?? []).map((s) => s.id));

/** An id no step of the look has. */
const newId = (kind: string) => freshId(kind, takenIds());

/** Add a step where its stage stands in the order light meets things, beside the open one. */
export function addStep(treatment: Treatment, settings: Step["settings"] = {}) {
  const { look, catalogue, open } = bench();
  if (!look || !catalogue) return;
  const step = madeStep(treatment, newId(treatment.kind), settings);
  edit((l) => ({ ...l, steps: placedStep(l.steps, step, catalogue, open) }));
  setState({ open: step.id, question: "what" });
}

/** Add a step of a kind at its place in the path, beside the open one, which stays open. */
export function addBeside(kind: string, settings: Step["settings"]) {
  const { catalogue, open } = bench();
  const treatment = catalogue?.treatments.find((t) => t.kind === kind);
  if (!catalogue || !treatment) return;
  const step = madeStep(treatment, newId(kind), settings);
  edit((look) => ({ ...look, steps: placedStep(look.steps, step, catalogue, open) }));
}

/** Remove steps, with what they hold; what read them reads what is so far. */
export function removeSteps(ids: Set<string>) {
  edit((look) => {
    const inside = [...ids].flatMap((id) => allSteps(innerSteps(findStep(look.steps, id) ?? NONE)));
    const gone = new Set([...ids, ...inside.map((s) => s.id)]);
    const steps = [...ids].reduce(
      (now, id) => withRow(now, id, (row) => row.filter((s) => s.id !== id)),
      withOwnShapes(look.steps, look.steps, (step) => gone.has(step)),
    );
    return { ...look, steps: withoutReadsOf(steps, gone) };
  });
  const { open, base } = bench();
  const isLeft = (id: string | null) => findStep(bench().look?.steps ?? [], id) !== undefined;
  setState({
    chosen: new Set(),
    open: isLeft(open) ? open : null,
    base: ids.has(base) ? "footage" : base,
  });
}

/** Move a step within its row. */
export function moveStep(id: string, to: number) {
  edit((look) => {
    const row = rowOf(look.steps, id);
    const from = row.findIndex((s) => s.id === id);
    const step = row[from];
    if (!step || to === from || to < 0 || to >= row.length) return look;
    const inNewOrder = (r: Step[]) => r.toSpliced(from, 1).toSpliced(to, 0, step);
    return { ...look, steps: withRow(look.steps, id, inNewOrder) };
  });
}

/** Move the chosen steps of a row a place earlier or later, together. */
export function moveChosen(by: 1 | -1) {
  const { chosen } = bench();
  const [first = ""] = chosen;
  edit((look) => ({
    ...look,
    steps: withRow(look.steps, first, (row) => shiftSteps(row, chosen, by)),
  }));
}

/** Make the chosen steps of a row one step, mixed back as one. */
export function bundleChosen() {
  const { chosen, look } = bench();
  const first = look?.steps
    .flatMap((s) => [s, ...allSteps(innerSteps(s))])
    .find((s) => chosen.has(s.id));
  if (!look || !first) return;
  const id = newId("bundle");
  const row = new Set(rowOf(look.steps, first.id).map((s) => s.id));
  const together = new Set([...chosen].filter((c) => row.has(c)));
  edit((l) => ({ ...l, steps: withRow(l.steps, first.id, (r) => bundleSteps(r, together, id)) }));
  setState({ chosen: new Set(), open: id });
}

/** Have a bundle's steps stand in its place. */
export function unbundle(id: string) {
  edit((look) => ({
    ...look,
    steps: withoutReadsOf(
      withRow(look.steps, id, (row) => row.flatMap((s) => (s.id === id ? innerSteps(s) : [s]))),
      new Set([id]),
    ),
  }));
  setState({ open: null });
}
