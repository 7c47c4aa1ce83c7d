import { busyWith } from "../api/busy";
import {
  api,
  type Look,
  Refusal,
  type SettingValue,
  type Step,
  type Treatment,
  unwrap,
} from "../api/client";
import { withValue } from "../model/keyframes";
import {
  allSteps,
  bundled,
  findStep,
  innerSteps,
  rowOf,
  withoutReadsOf,
  withRow,
  withStep,
} from "../model/lookTree";
import { bench, setState } from "./bench";
import { applyLookState } from "./look";
import { notice } from "./notices";
import { pause } from "./player";

/** The draft is what the page shows; it is sent on, one revision after the other. */
let unsent = false;
let last: Promise<unknown> = Promise.resolve();

/** Do what changes a look when all that was begun before it has been done. */
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = busyWith(last.then(work));
  last = done.catch(() => undefined);
  return done;
}

/** Change the draft. With `send` false it is only shown: a control is still moving. */
export function edit(change: (look: Look) => Look, send = true) {
  const { look } = bench();
  if (!look) return;
  const next = change(look);
  if (next !== look) {
    setState({ look: next, moving: !send });
    unsent = true;
  }
  if (send) {
    setState({ moving: false });
    if (unsent) void inTurn(sendDraft);
  }
}

async function sendDraft() {
  const { look, lookId, revision } = bench();
  if (!look || lookId === null || !unsent) return;
  unsent = false;
  try {
    const made = await unwrap(
      api.PUT("/api/looks/{look_id}", {
        params: { path: { look_id: lookId } },
        body: { revision, look: look as unknown as Record<string, unknown> },
      }),
    );
    setState({ revision: made.revision, canUndo: made.can_undo, canRedo: made.can_redo });
  } catch (error) {
    notice("look", error);
    if (error instanceof Refusal && error.status !== 0)
      await reload(lookId).catch((lost) => notice("look", lost));
  }
}

async function reload(lookId: number) {
  const path = { look_id: lookId };
  applyLookState(await unwrap(api.GET("/api/looks/{look_id}", { params: { path } })));
}

export function stepHistory(way: "undo" | "redo") {
  return inTurn(async () => {
    const { lookId } = bench();
    if (lookId === null) return;
    const params = { path: { look_id: lookId } };
    const path = way === "undo" ? "/api/looks/{look_id}/undo" : "/api/looks/{look_id}/redo";
    try {
      applyLookState(await unwrap(api.POST(path, { params })));
    } catch (error) {
      if (!(error instanceof Refusal && error.status === 409)) notice("look", error);
    }
  });
}

/** A new look from a document; the server checks it. */
export function takeLook(text: string) {
  return inTurn(async () => {
    const response = await fetch("/api/looks", { method: "POST", body: text });
    const body = await response.json();
    if (!response.ok) throw new Refusal(response.status, body.detail);
    applyLookState(body);
  });
}

export async function openLook(lookId: number) {
  try {
    await inTurn(() => reload(lookId));
  } catch (error) {
    notice("look", error);
  }
}

/** Keep the look as it is under a new name; the one it came from stays. */
export async function saveAs(name: string) {
  const { look } = bench();
  if (!look) return;
  try {
    await takeLook(JSON.stringify({ ...look, name }));
  } catch (error) {
    notice("look", error);
  }
}

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

/** An id no step of the look has. */
function newId(kind: string): string {
  const taken = new Set(allSteps(bench().look?.steps ?? []).map((s) => s.id));
  let n = 1;
  while (taken.has(`${kind}-${n}`)) n += 1;
  return `${kind}-${n}`;
}

/** Add a step where its stage stands in the order light meets things, beside the open one. */
export function addStep(treatment: Treatment, settings: Step["settings"] = {}) {
  const { look, catalogue, open } = bench();
  if (!look || !catalogue) return;
  const step: Step = {
    id: newId(treatment.kind),
    treatment: treatment.kind,
    settings: {
      ...Object.fromEntries(treatment.settings.map((s) => [s.name, s.default as never])),
      ...settings,
    },
    mix: { blend: treatment.blend, amount: treatment.amount },
    on: true,
  };
  const rank = (kind: string) =>
    catalogue.stages.indexOf(catalogue.treatments.find((t) => t.kind === kind)?.stage ?? "");
  const placed = (row: Step[]) => {
    const after = row.findLastIndex((s) => rank(s.treatment) <= rank(treatment.kind));
    return row.toSpliced(after + 1, 0, step);
  };
  const sibling = open && findStep(look.steps, open) ? open : "";
  edit((l) => ({ ...l, steps: withRow(l.steps, sibling, placed) }));
  setState({ open: step.id });
}

export function removeStep(id: string) {
  edit((look) => {
    const gone = findStep(look.steps, id);
    const ids = new Set(gone ? [id, ...allSteps(innerSteps(gone)).map((s) => s.id)] : []);
    const rest = withRow(look.steps, id, (row) => row.filter((s) => s.id !== id));
    return { ...look, steps: withoutReadsOf(rest, ids) };
  });
  setState({ open: null, base: bench().base === id ? "as shot" : bench().base });
}

/** Move a step within its row. */
export function moveStep(id: string, to: number) {
  edit((look) => {
    const row = rowOf(look.steps, id);
    const from = row.findIndex((s) => s.id === id);
    const step = row[from];
    if (!step || to === from || to < 0 || to >= row.length) return look;
    const moved = (r: Step[]) => r.toSpliced(from, 1).toSpliced(to, 0, step);
    return { ...look, steps: withRow(look.steps, id, moved) };
  });
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
  edit((l) => ({ ...l, steps: withRow(l.steps, first.id, (r) => bundled(r, together, id)) }));
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
