import { useQuery } from "@tanstack/react-query";
import { create } from "zustand";
import { busyWith } from "../api/busy";
import {
  api,
  glimpseOf,
  type Matting,
  Refusal,
  refusal,
  type Shape,
  type Step,
  type Stroke,
  unwrap,
} from "../api/client";
import { queryClient } from "../api/queries";
import { findStep } from "../model/lookTree";
import { shapesOf, sourceOf } from "../model/masks";
import { type StrokeKind, withoutLast, withStroke } from "../model/strokes";
import { bench, setState, useBench } from "./bench";
import { addShape, changeShape } from "./masks";
import { notice } from "./notices";
import { plateHasCome } from "./plates";

const EVERY_MS = 400;
const REST_MS = 60;

/** Which shape of which step a figure is lifted out for. */
interface Lifted {
  clip: number;
  step: string;
  shape: string;
}

interface LiftingState {
  /** What strokes are drawn for; null where none are. */
  of: Lifted | null;
  strokes: Stroke[];
  kind: StrokeKind;
  width: number;
  /** The matte that the strokes are drawn over. */
  known: string | null;
  /** The matte that is being found. */
  finding: (Matting & Lifted) | null;
  /** A frame with what is lifted out of it, as an address of its picture. */
  seen: { frame: number; url: string } | null;
}

export const useLifting = create<LiftingState>(() => ({
  of: null,
  strokes: [],
  kind: "around",
  width: 24,
  known: null,
  finding: null,
  seen: null,
}));
const lifting = useLifting.getState;
const set = useLifting.setState;

/** Begin to lift a figure out: a shape of its own, that has no plate yet. */
export function liftOut(step: Step) {
  const id = addShape(step, "matte", {}, "figure");
  const now = findStep(bench().look?.steps ?? [], step.id);
  const made = now && shapesOf(now).find((s) => s.id === id);
  if (made) void openLifting(step, made);
}

/** Draw strokes for a shape: those that were drawn before are there. */
export async function openLifting(step: Step, own: Shape) {
  const { clip, look } = bench();
  if (!clip) return;
  const source = sourceOf(look?.steps ?? [], step, own);
  const of = { clip: clip.id, step: source.step.id, shape: source.shape.id };
  const file = String(source.shape.file ?? "") || null;
  set({ of, strokes: [], known: file, kind: "around", seen: null });
  setState({ drawing: false, examined: null });
  try {
    const draft = await unwrap(api.GET("/api/v1/mattes/drafts", { params: { query: of } }));
    const kept = draft.known === file ? draft.strokes : [];
    const strokes = kept.length || !file ? kept : ((await strokesOf(file))?.strokes ?? []);
    if (lifting().of !== of) return;
    set({ strokes, kind: strokes.length ? "this" : "around" });
  } catch (error) {
    notice("look", error);
  }
}

/** Whether strokes are being drawn for a shape, on the clip that is open. */
export function useIsLifting(step: Step | undefined, shape: Shape | undefined): boolean {
  const clip = useBench((s) => s.clip?.id);
  return useLifting(
    ({ of }) =>
      of?.clip === clip && of?.step === step?.id && of?.shape === shape?.id && of !== null,
  );
}

export function leaveLifting() {
  set({ of: null, strokes: [], seen: null });
}

const strokesQuery = (file: string) => ({
  queryKey: ["strokes", file],
  queryFn: () => unwrap(api.GET("/api/v1/mattes/{file}/strokes", { params: { path: { file } } })),
  staleTime: Number.POSITIVE_INFINITY,
});

const strokesOf = (file: string) => queryClient.fetchQuery(strokesQuery(file));

/** Whether a plate was lifted out of the clip by strokes; undefined while that is not known. */
export function useIsLifted(file: string, clip: number): boolean | undefined {
  const { data } = useQuery({ ...strokesQuery(file), enabled: file !== "", retry: false });
  return data === undefined ? undefined : data?.clip === clip;
}

function change(strokes: Stroke[]) {
  const { of, known } = lifting();
  set({ strokes });
  if (of)
    void unwrapEmpty(api.PUT("/api/v1/mattes/drafts", { body: { ...of, known, strokes } })).catch(
      (error) => notice("look", error),
    );
}

async function unwrapEmpty(answer: Promise<{ error?: unknown; response: Response }>) {
  const { response, error } = await busyWith(answer);
  if (!response.ok) throw refusal(response.status, error);
}

/** Draw a stroke; after a line around the figure, strokes on it come next. */
export function draw(stroke: Stroke) {
  const { strokes, kind } = lifting();
  change(withStroke(strokes, stroke));
  if (kind === "around") set({ kind: "this" });
}

/** Take back the last stroke of the frame at the play head. */
export const takeBack = () => change(withoutLast(lifting().strokes, bench().frame));

/** Whether strokes are drawn on the page as it is now. */
export function isDrawing(): boolean {
  const { of } = lifting();
  const { clip, open, question } = bench();
  return of !== null && of.clip === clip?.id && of.step === open && question === "where";
}

/** Take back a stroke where strokes are drawn and the frame has one; says whether it did. */
export function undoStroke(): boolean {
  const has = isDrawing() && lifting().strokes.some((stroke) => stroke.frame === bench().frame);
  if (has) takeBack();
  return has;
}

/** Remove all strokes of the frame at the play head. */
export const clearFrame = () =>
  change(lifting().strokes.filter((stroke) => stroke.frame !== bench().frame));

const channel = crypto.randomUUID();
let sequence = 0;
let giveUp = new AbortController();
let resting: ReturnType<typeof setTimeout> | undefined;

/** See what is lifted out of a frame by now, at a height; the newest wanted alone comes. */
export function glimpse(frame: number, height: number) {
  const { of, strokes, known } = lifting();
  if (!of) return;
  clearTimeout(resting);
  giveUp.abort();
  giveUp = new AbortController();
  const { signal } = giveUp;
  sequence += 1;
  const body = { clip: of.clip, frame, strokes, known, height, channel, sequence };
  void busyWith(
    new Promise<void>((done) => {
      resting = setTimeout(async () => {
        try {
          const url = URL.createObjectURL(await glimpseOf(body, signal));
          const before = lifting().seen;
          set({ seen: { frame, url } });
          if (before) setTimeout(() => URL.revokeObjectURL(before.url), 1000);
        } catch (error) {
          const overtaken = error instanceof Refusal && error.status === 409;
          if (!overtaken && !signal.aborted) notice("picture", error);
        } finally {
          done();
        }
      }, REST_MS);
      signal.addEventListener("abort", () => done());
    }),
  );
}

/** Which of several mattes that were asked for is the last. */
let turn = 0;

/** Find the matte of the whole clip, in the background; the shape has it then. */
export async function findMatte() {
  const { of, strokes, known } = lifting();
  if (!of) return;
  const { lookId } = bench();
  turn += 1;
  const mine = turn;
  try {
    const body = { clip: of.clip, title: of.shape, strokes, known };
    const begun = await unwrap(api.POST("/api/v1/mattes/finding", { body }));
    set({ finding: { ...begun, ...of } });
    const found = await waitForEnd(of, mine);
    if (!found) return;
    if (found.error) throw new Error(found.error);
    if (!found.file) return;
    plateHasCome();
    const now = bench();
    const step = findStep(now.look?.steps ?? [], of.step);
    const shape = step && shapesOf(step).find((s) => s.id === of.shape);
    if (now.lookId !== lookId || now.clip?.id !== of.clip || !step || !shape)
      throw new Error(`The matte of ${found.title} is kept among the plates: a matte can have it.`);
    changeShape(step, shape, [["file", found.file]]);
    if (lifting().of !== of) return;
    set({ known: found.file });
    change(lifting().strokes);
  } catch (error) {
    notice("look", error);
  }
}

/** Wait until a matte is found, or can't be; null once another was begun. */
async function waitForEnd(of: Lifted, mine: number): Promise<Matting | null> {
  for (;;) {
    const now = await unwrap(api.GET("/api/v1/mattes/finding"));
    if (mine !== turn) return null;
    if (!now) throw new Error("The server was started again meanwhile: find it once more.");
    set({ finding: { ...now, ...of } });
    if (!now.running) return now;
    await new Promise((done) => setTimeout(done, EVERY_MS));
  }
}

export const stopFinding = () => api.POST("/api/v1/mattes/finding/stop");
