import { create } from "zustand";
import { api, type KeptStep, type Step, unwrap } from "../api/client";
import { copiesOf, freshName } from "../model/copies";
import { withOwnShapes } from "../model/masks";
import { placedStep } from "../model/newStep";
import { stepName } from "../model/stepNames";
import { summary } from "../model/stepSummary";
import { bench, setState } from "./bench";
import { edit, takenIds } from "./edits";
import { treatmentOf } from "./look";
import { notice } from "./notices";

export const useKeptSteps = create<{ kept: KeptStep[] }>(() => ({ kept: [] }));

export async function loadKeptSteps() {
  const kept = await unwrap(api.GET("/api/v1/kept-steps"));
  useKeptSteps.setState({ kept });
}

async function keep(kept: KeptStep[]) {
  try {
    await unwrap(api.PUT("/api/v1/kept-steps", { body: kept }));
    useKeptSteps.setState({ kept });
    return true;
  } catch (error) {
    notice("look", error);
    return false;
  }
}

/** Keep a step under a name that says what it is. */
export function keepStep(step: Step) {
  const { kept } = useKeptSteps.getState();
  const all = bench().look?.steps ?? [];
  const [own = step] = withOwnShapes([step], all, (id) => id !== step.id);
  const [plain] = copiesOf([{ ...own, keys: {}, bursts: [], on: true }], new Set());
  if (!plain) return;
  const words = `${stepName(step)}, ${summary(plain, treatmentOf(step))}`.slice(0, 110);
  const name = freshName(
    words,
    kept.map((k) => k.name),
  );
  void keep([...kept, { name, step: plain }]).then((done) => {
    if (done) notice("look", `Kept as “${name}”. It stands under my steps where steps are added.`);
  });
}

export const letStepGo = (name: string) =>
  void keep(useKeptSteps.getState().kept.filter((k) => k.name !== name));

/** Add a kept step as a new one is added. */
export function addKeptStep({ step }: KeptStep) {
  const { catalogue, open } = bench();
  const [made] = copiesOf([step], takenIds());
  if (!catalogue || !made) return;
  edit((l) => ({ ...l, steps: placedStep(l.steps, made, catalogue, open) }));
  setState({ open: made.id, question: "what" });
}
