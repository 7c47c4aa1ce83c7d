import { api, type Look, unwrap } from "../api/client";
import { listLooks } from "../api/lists";
import { freshName } from "../model/copies";
import { notice } from "./notices";

/** Edits that the server does not have yet, kept by the browser: also while the page is opened anew. */

interface Unkept {
  look: Look;
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
    return JSON.parse(localStorage.getItem(keyOf(lookId)) ?? "null");
  } catch {
    return null;
  }
}

/** Keep an edit of a look that was changed elsewhere meanwhile: as a look of its own. */
export async function keepBoth(look: Look) {
  const looks = await listLooks();
  const taken = looks.map((l) => l.name);
  const name = freshName(`${look.name}, my edit`, taken);
  const body = { ...look, name };
  await unwrap(api.POST("/api/v1/looks", { body }));
  notice(
    "look",
    `${look.name} was changed elsewhere meanwhile: that is shown. Your edit is kept as ${name}.`,
  );
}
