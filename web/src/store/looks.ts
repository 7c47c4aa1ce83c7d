import { api, checkedLook, type Fitting, type Look, type LookState, Refusal } from "../api/client";
import { listLooks } from "../api/lists";
import { freshName } from "../model/copies";
import { bench, setState } from "./bench";
import { inTurn, reload } from "./edits";
import { applyLookState } from "./look";
import { notice } from "./notices";
import { newLookOf } from "./unkept";

/** The looks of the project: made, opened, kept as copies, deleted. */

const all = listLooks;

async function createLook(look: Look, fittings: Record<string, Fitting> = {}) {
  applyLookState(await newLookOf(look, fittings));
}

/** A look without steps, under a name no other look has. */
export async function newLook(name = "New look") {
  try {
    await inTurn(async () => {
      const taken = (await all()).map((l) => l.name);
      await createLook({ format: "yearning-look/3", name: freshName(name, taken), steps: [] });
    });
  } catch (error) {
    notice("look", error);
  }
}

/** A look from a file's text: opened where it is here already, else under a name of its own. */
export function takeLook(text: string) {
  return inTurn(async () => {
    const { look, notes } = await checkedLook(text);
    const looks = await all();
    const same = looks.find((l) => JSON.stringify(l.look) === JSON.stringify(look));
    if (same) {
      applyLookState(same);
      notice("look", `${look.name} is here already, as it is in the file: it is open now.`);
      return;
    }
    const name = freshName(
      look.name,
      looks.map((l) => l.name),
    );
    await createLook({ ...look, name });
    if (name !== look.name)
      notice("look", `Another look is called ${look.name}; this one is ${name} here.`);
    for (const note of notes) notice("look", `${name}: ${note}`);
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
  const { shared, fittings } = bench();
  if (!shared) return;
  try {
    await inTurn(async () => {
      const taken = (await all()).map((l) => l.name);
      await createLook({ ...shared, name: freshName(name, taken) }, fittings);
    });
  } catch (error) {
    notice("look", error);
  }
}

/** Delete a look. Undo brings it back; the one changed last is opened in its place. */
export async function deleteLook({ id, name }: LookState) {
  try {
    await inTurn(async () => {
      const params = { path: { look_id: id } };
      const { error, response } = await api.DELETE("/api/v1/looks/{look_id}", { params });
      if (error !== undefined) throw new Refusal(response.status, `${name} can't be deleted`);
      if (bench().lookId === id) {
        const [next] = await all();
        if (next) applyLookState(next);
        else await createLook({ format: "yearning-look/3", name: "New look", steps: [] });
      }
      setState({ deleted: { id, name, before: bench().revision } });
    });
  } catch (error) {
    notice("look", error);
  }
}
