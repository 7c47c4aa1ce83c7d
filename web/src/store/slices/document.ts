import type { Catalogue, Clip, Look } from "../../api/client";

/** A state of the look, kept to compare with and to go back to. */
export interface Snapshot {
  id: string;
  name: string;
  look: Look;
}

/** What is worked on: a clip, a frame of it, and the look as the server last had it. */
export interface DocumentSlice {
  catalogue: Catalogue | null;
  clip: Clip | null;
  frame: number;
  look: Look | null;
  lookId: number | null;
  revision: number;
  canUndo: boolean;
  canRedo: boolean;
  snapshots: Snapshot[];
  /** The pictures along the path, by step, as data addresses. */
  thumbnails: Record<string, string>;
}

export const initialDocument: DocumentSlice = {
  catalogue: null,
  clip: null,
  frame: 0,
  look: null,
  lookId: null,
  revision: 0,
  canUndo: false,
  canRedo: false,
  snapshots: [],
  thumbnails: {},
};
