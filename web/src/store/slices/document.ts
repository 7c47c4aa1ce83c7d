import type { Catalogue, Clip, Fitting, Look, LookState, Snapshot } from "../../api/client";
import type { Scope } from "../../model/fittings";

/** A look that was deleted, and the revision that was current then: Undo brings it back. */
export interface Deleted {
  id: number;
  name: string;
  before: number;
}

/** What is worked on: a clip, a frame of it, and the look as the server last had it. */
export interface DocumentSlice {
  /** The project is open for looking: nothing is kept. */
  readOnly: boolean;
  catalogue: Catalogue | null;
  clip: Clip | null;
  frame: number;
  /** The look as it stands on the clip: what all clips share, with what is this one's own. */
  look: Look | null;
  shared: Look | null;
  /** What holds for one clip alone, by the clips' numbers. */
  fittings: Record<string, Fitting>;
  /** What a change of a value goes to. */
  scope: Scope;
  lookId: number | null;
  revision: number;
  /** Equal for looks of equal steps; of the revision. */
  digest: string;
  /** Why the server does not have the look as it is shown; null where it has. */
  unkept: string | null;
  /** What Undo takes back of the look, and Redo makes again. */
  undoes: LookState["undoes"];
  redoes: LookState["redoes"];
  /** What Undo or Redo just did, while the page says so. */
  walked: { words: string; step: string | null } | null;
  snapshots: Snapshot[];
  /** The look deleted last, until it is back. */
  deleted: Deleted | null;
  /** The pictures along the path, by step, as data addresses. */
  thumbnails: Record<string, string>;
}

export const initialDocument: DocumentSlice = {
  readOnly: false,
  catalogue: null,
  clip: null,
  frame: 0,
  look: null,
  shared: null,
  fittings: {},
  scope: "every",
  lookId: null,
  revision: 0,
  digest: "",
  unkept: null,
  undoes: null,
  redoes: null,
  walked: null,
  snapshots: [],
  deleted: null,
  thumbnails: {},
};
