import { api, got, type Look, Refusal, type Step, type Treatment } from "../api/client";
import { bench, notice, put, standing } from "./bench";

/** The draft is what the page shows; it is sent on, one revision after the other. */
let sending: Promise<void> = Promise.resolve();
let unsent = false;

/** Change the draft. With `send` false it is only shown: a control is still moving. */
export function edit(change: (look: Look) => Look, send = true) {
  const { look } = bench();
  if (!look) return;
  const next = change(look);
  if (next !== look) {
    put({ look: next, moving: !send });
    unsent = true;
  }
  if (send) {
    put({ moving: false });
    if (unsent) sending = sending.then(sendDraft);
  }
}

async function sendDraft() {
  const { look, lookId, revision } = bench();
  if (!look || lookId === null || !unsent) return;
  unsent = false;
  try {
    const made = await got(
      api.PUT("/api/looks/{look_id}", {
        params: { path: { look_id: lookId } },
        body: { revision, look: look as unknown as Record<string, unknown> },
      }),
    );
    put({ revision: made.revision, canUndo: made.can_undo, canRedo: made.can_redo });
  } catch (error) {
    notice("look", error);
    if (error instanceof Refusal && error.status !== 0) await reload(lookId);
  }
}

async function reload(lookId: number) {
  const path = { look_id: lookId };
  standing(await got(api.GET("/api/looks/{look_id}", { params: { path } })));
}

/** After what is still on its way. */
const settled = async () => {
  await sending;
};

export async function walk(way: "undo" | "redo") {
  const { lookId } = bench();
  if (lookId === null) return;
  await settled();
  const params = { path: { look_id: lookId } };
  const path = way === "undo" ? "/api/looks/{look_id}/undo" : "/api/looks/{look_id}/redo";
  try {
    standing(await got(api.POST(path, { params })));
  } catch (error) {
    if (!(error instanceof Refusal && error.status === 409)) notice("look", error);
  }
}

/** A new look from a document; the server checks it. */
export async function takeLook(text: string) {
  await settled();
  const response = await fetch("/api/looks", { method: "POST", body: text });
  const body = await response.json();
  if (!response.ok) throw new Refusal(response.status, body.detail);
  standing(body);
}

export async function openLook(lookId: number) {
  await settled();
  try {
    await reload(lookId);
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
  edit((look) => ({ ...look, steps: look.steps.map((s) => (s.id === id ? change(s) : s)) }), send);
}

/** Add a step where its stage stands in the order light meets things. */
export function addStep(treatment: Treatment) {
  const { look, catalogue } = bench();
  if (!look || !catalogue) return;
  let n = 1;
  while (look.steps.some((s) => s.id === `${treatment.kind}-${n}`)) n += 1;
  const step: Step = {
    id: `${treatment.kind}-${n}`,
    treatment: treatment.kind,
    settings: Object.fromEntries(treatment.settings.map((s) => [s.name, s.default])) as never,
    mix: { blend: treatment.blend, amount: treatment.amount },
    on: true,
  };
  const rank = (kind: string) =>
    catalogue.stages.indexOf(catalogue.treatments.find((t) => t.kind === kind)?.stage ?? "");
  const after = look.steps.findLastIndex((s) => rank(s.treatment) <= rank(treatment.kind));
  edit((l) => ({ ...l, steps: l.steps.toSpliced(after + 1, 0, step) }));
  put({ open: step.id });
}

export function removeStep(id: string) {
  edit((look) => ({ ...look, steps: look.steps.filter((s) => s.id !== id) }));
  put({ open: null, base: bench().base === id ? "as shot" : bench().base });
}

export function moveStep(id: string, to: number) {
  edit((look) => {
    const from = look.steps.findIndex((s) => s.id === id);
    const step = look.steps[from];
    if (!step || to === from || to < 0 || to >= look.steps.length) return look;
    return { ...look, steps: look.steps.toSpliced(from, 1).toSpliced(to, 0, step) };
  });
}
