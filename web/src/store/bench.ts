import { create } from "zustand";
import type { Catalogue, Clip, Look, LookState, Step, Treatment, Value } from "../api/client";
import { findStep } from "../model/lookTree";

export type Compare = "plain" | "wipe" | "blink" | "beside" | "change";
export const COMPARES: Compare[] = ["plain", "wipe", "blink", "beside", "change"];
export const GAINS = [2, 4, 8, 16, 32];
export const AS_SHOT = "as shot";
/** Change of the open step alone: against what stands below it. */
export const OWN = "own";

/** Where on the page a notice belongs: beside what was done. */
export type Where = "clips" | "footage" | "look" | "picture" | "render";
export interface Notice {
  id: number;
  where: Where;
  text: string;
}

export type Face = "readings" | "footage" | "renders";

/** A state of the look, kept to compare with and to go back to. */
export interface Snapshot {
  id: string;
  name: string;
  look: Look;
}

export interface Picking {
  says: string;
  after: string;
  take: (value: Value) => void;
}

/** What of the open step's time is picked: its keys at a frame (of one setting, or all), or a burst. */
export type Picked =
  | { kind: "keys"; frame: number; name: string | null }
  | { kind: "burst"; at: number };

interface BenchState {
  catalogue: Catalogue | null;
  clip: Clip | null;
  frame: number;
  look: Look | null;
  lookId: number | null;
  revision: number;
  canUndo: boolean;
  canRedo: boolean;
  open: string | null;
  compare: Compare;
  /** What Wipe, Blink and Beside compare with: the footage, or after a step. */
  base: string;
  holding: boolean;
  /** What is beside the picture. */
  face: Face;
  /** How far Change magnifies. */
  gain: number;
  /** What a display can't show is striped. */
  warns: boolean;
  /** The step whose tone window's weight is shown instead of the result. */
  weighed: string | null;
  /** Steps that are to become a bundle. */
  chosen: Set<string>;
  snapshots: Snapshot[];
  /** A place of the picture is wanted: of the picture after that step. */
  picking: Picking | null;
  wipe: number;
  trueSize: boolean;
  centre: { x: number; y: number };
  picked: Picked | null;
  /** Every keyed setting has a lane of its own. */
  lanes: boolean;
  /** Bursts are about to be made by rule. */
  bursting: boolean;
  /** Where the burst begins that is being marked. */
  marking: number | null;
  /** Frames of the clip that were looked at. */
  looked: Set<number>;
  /** A control is moving: quick pictures are wanted. */
  moving: boolean;
  playing: boolean;
  speed: number | null;
  /** Frames left out since play began, to stay with the clock. */
  dropped: number;
  /** Half speed. */
  slow: boolean;
  /** Without sound. */
  quiet: boolean;
  /** First and last frame of what is played round and round; null is the whole clip. */
  range: [number, number] | null;
  played: Set<number>;
  thumbnails: Record<string, string>;
  notices: Notice[];
  keysShown: boolean;
  /** Starter looks are shown instead of the path. */
  starters: boolean;
}

const FACE = "beside the picture";

export const useBench = create<BenchState>(() => ({
  catalogue: null,
  clip: null,
  frame: 0,
  look: null,
  lookId: null,
  revision: 0,
  canUndo: false,
  canRedo: false,
  open: null,
  compare: "plain",
  base: AS_SHOT,
  holding: false,
  face: (localStorage.getItem(FACE) as Face | null) ?? "readings",
  gain: 4,
  warns: false,
  weighed: null,
  chosen: new Set(),
  snapshots: [],
  picking: null,
  picked: null,
  lanes: false,
  bursting: false,
  marking: null,
  looked: new Set(),
  wipe: 0.5,
  trueSize: false,
  centre: { x: 0.5, y: 0.5 },
  moving: false,
  playing: false,
  speed: null,
  dropped: 0,
  slow: false,
  quiet: false,
  range: null,
  played: new Set(),
  thumbnails: {},
  notices: [],
  keysShown: false,
  starters: false,
}));

useBench.subscribe(({ face }) => localStorage.setItem(FACE, face));
useBench.subscribe((now, before) => {
  if (now.open !== before.open) useBench.setState({ picked: null, marking: null });
});

export const put = useBench.setState;
export const bench = useBench.getState;

let noticed = 0;

/** Say something that stays until it is read. */
export function notice(where: Where, error: unknown) {
  const text = error instanceof Error ? error.message : String(error);
  if (bench().notices.some((n) => n.text === text && n.where === where)) return;
  noticed += 1;
  if (where === "render" || where === "footage")
    put({ face: where === "render" ? "renders" : "footage" });
  put({ notices: [...bench().notices, { id: noticed, where, text }] });
}

export function dismiss(id: number) {
  put({ notices: bench().notices.filter((n) => n.id !== id) });
}

/** Take a look as the server has it. */
export function standing(state: LookState) {
  const look = state.look as unknown as Look;
  const same = bench().lookId === state.id;
  const open = bench().open;
  put({
    look,
    lookId: state.id,
    revision: state.revision,
    canUndo: state.can_undo,
    canRedo: state.can_redo,
    open: same && findStep(look.steps, open) ? open : same ? null : firstOpen(look),
    weighed: null,
    chosen: new Set(),
    picking: null,
    picked: null,
    base: AS_SHOT,
  });
}

const firstOpen = (look: Look) => look.steps[0]?.id ?? null;

export function goTo(frame: number) {
  const clip = bench().clip;
  if (clip) put({ frame: Math.min(Math.max(Math.round(frame), 0), clip.frames - 1) });
}

/** Have the range that is played begin, or end, at a frame; all of the clip is no range. */
export function setRange(which: "first" | "last", frame: number) {
  const { clip, range } = bench();
  if (!clip) return;
  const [first, last] = range ?? [0, clip.frames - 1];
  const next: [number, number] = which === "first" ? [frame, last] : [first, frame];
  playOver(Math.min(...next), Math.max(...next));
}

export function playOver(first: number, last: number) {
  const { clip } = bench();
  const whole = !clip || (first <= 0 && last >= clip.frames - 1);
  put({ range: whole || last <= first ? null : [first, last] });
}

export function treatmentOf(step: Step): Treatment | undefined {
  return bench().catalogue?.treatments.find((t) => t.kind === step.treatment);
}

/** What a step is called on the page. */
export const stepName = (step: Step) =>
  step.treatment === "bundle" ? step.name || "Bundle" : titled(step.treatment);

export const titled = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
