import { api, type Fitting, type Look, type LookState, unwrap } from "../api/client";
import { listLooks } from "../api/lists";
import { freshName } from "../model/copies";
import { notice } from "./notices";

/** Edits that the server does not have yet, kept by the browser: also while the page is opened anew. */

interface Unkept {
  look: Look;
  fittings: Record<string, Fitting>;
  /** The revision that it was made from. */
  revision: number;
}

const keyOf = (lookId: number) => `unkept edit of look ${lookId}`;

/** Keep an edit here until the server has it. */
export function keepHere(lookId: number, edit: Unkept) {
  try {
    localStorage.setItem(keyOf(lookId), JSON.stringify(edit));
  } catch {
    // without room in the browser it is kept for as long as the page is open
  }
}

export const forgetHere = (lookId: number) => localStorage.removeItem(keyOf(lookId));

/** The edit of a look that the server did not have when the page was left. */
export function keptHere(lookId: number): Unkept | null {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(lookId)) ?? "null");
    return kept && { fittings: {}, ...kept };
  } catch {
    return null;
  }
}

/** A new look, with what single clips have of it. */
export async function newLookOf(
  look: Look,
  fittings: Record<string, Fitting> = {},
): Promise<LookState> {
  const made = await unwrap(api.POST("/api/v1/looks", { body: look }));
  if (!Object.keys(fittings).length) return made;
  const params = { path: { look_id: made.id } };
  const body = { revision: made.revision, look: made.look, fittings };
  return unwrap(api.PUT("/api/v1/looks/{look_id}", { params, body }));
}

/** Keep an edit of a look that was changed elsewhere meanwhile: as a look of its own. */
export async function keepBoth(look: Look, fittings: Record<string, Fitting>) {
  const looks = await listLooks();
  const taken = looks.map((l) => l.name);
  const name = freshName(`${look.name}, my edit`, taken);
  await newLookOf({ ...look, name }, fittings);
  notice(
    "look",
    `${look.name} was changed elsewhere meanwhile: that is shown. Your edit is kept as ${name}.`,
  );
}
