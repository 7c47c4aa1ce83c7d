import { checkedLook } from "../api/client";
import { asText, copiesOf, stepsIn } from "../model/copies";
import { allSteps, findStep, rowOf, withRow } from "../model/lookTree";
import { withOwnShapes } from "../model/masks";
import { bench, setState } from "./bench";
import { edit, takenIds } from "./edits";
import { notice } from "./notices";

/** The steps that are meant: those chosen, or the open one. */
function stepsToCopy() {
  const { look, chosen, open } = bench();
  const ids = chosen.size ? chosen : new Set(open ? [open] : []);
  const row = (look ? rowOf(look.steps, [...ids][0] ?? "") : []).filter((s) => ids.has(s.id));
  const inside = new Set(allSteps(row).map((s) => s.id));
  return withOwnShapes(row, look?.steps ?? [], (step) => !inside.has(step));
}

/** Make a step twice: the second stands after the first, and is open. */
export function duplicateStep(id: string) {
  const step = findStep(bench().look?.steps ?? [], id);
  const [made] = step ? copiesOf([step], takenIds()) : [];
  if (!made) return;
  edit((look) => ({
    ...look,
    steps: withRow(look.steps, id, (row) => row.flatMap((s) => (s.id === id ? [s, made] : [s]))),
  }));
  setState({ open: made.id });
}

/** The chosen steps, or the open one, as text for the clipboard; null if there are none. */
export function copiedText(): string | null {
  const steps = stepsToCopy();
  return steps.length ? asText(bench().look?.name ?? "", steps) : null;
}

/** Put the steps of a look given as text after the open step, or at the end; says if it was one. */
export async function pasteText(text: string): Promise<boolean> {
  const given = stepsIn(text);
  if (!given) return false;
  try {
    const { look: checked } = await checkedLook(text);
    const made = copiesOf(checked.steps, takenIds());
    const { open, look } = bench();
    const sibling = open && findStep(look?.steps ?? [], open) ? open : "";
    edit((l) => ({
      ...l,
      steps: withRow(l.steps, sibling, (row) => {
        const at = row.findIndex((s) => s.id === sibling);
        return row.toSpliced(at < 0 ? row.length : at + 1, 0, ...made);
      }),
    }));
    setState({ open: made.at(-1)?.id ?? null, chosen: new Set() });
  } catch (error) {
    notice("look", error);
  }
  return true;
}
