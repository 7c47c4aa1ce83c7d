import type { LookState, Step, Treatment } from "../api/client";
import { applyFitting } from "../model/fittings";
import { findStep } from "../model/lookTree";
import { packageOf } from "../model/stepNames";
import { inPlainWords } from "../model/wording";
import { bench, setState, useBench } from "./bench";
import { FOOTAGE } from "./slices/compare";

/** Take a look as the server has it. */
export function applyLookState(state: LookState) {
  const look = applyFitting(state.look, state.fittings[String(bench().clip?.id)]);
  const same = bench().lookId === state.id;
  const open = bench().open;
  setState({
    look,
    shared: state.look,
    fittings: state.fittings,
    lookId: state.id,
    revision: state.revision,
    digest: state.digest,
    undoes: state.undoes,
    redoes: state.redoes,
    open: same && findStep(look.steps, open) ? open : same ? null : (look.steps[0]?.id ?? null),
    examined: null,
    chosen: new Set(),
    picking: null,
    picked: null,
    base: FOOTAGE,
    notices: bench().notices.filter((n) => same || n.where !== "look"),
  });
}

/** What is picked belongs to the open step; another step opened, nothing is. */
export function startSelection() {
  useBench.subscribe((now, before) => {
    if (now.open !== before.open) setState({ picked: null, marking: null });
    if (now.picked && now.picked !== before.picked) setState({ question: "when" });
  });
}

/** The treatment of a step, as the catalogue describes it. */
export function treatmentOf(step: Step): Treatment | undefined {
  return bench().catalogue?.treatments.find((t) => t.kind === step.treatment);
}

/** The package that a step's treatment is of, where that is not installed; else null. */
export const absentPackage = (step: Step): string | null =>
  bench().catalogue && !treatmentOf(step) ? packageOf(step) : null;

/** What went wrong with the look on the bench, in the page's words. */
export function inWords(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error);
  return inPlainWords(text, benchSteps(), bench().catalogue?.treatments ?? []);
}

/** The steps of the look on the bench. */
export const benchSteps = (): Step[] => bench().look?.steps ?? [];
