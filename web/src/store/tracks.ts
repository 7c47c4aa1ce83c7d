import { useQuery } from "@tanstack/react-query";
import { create } from "zustand";
import {
  api,
  type Clip,
  type Finding,
  type Hand,
  type Shape,
  type Step,
  type Track,
  type TrackPlaces,
  unwrap,
} from "../api/client";
import { listTracks } from "../api/lists";
import { queryClient } from "../api/queries";
import { findStep } from "../model/lookTree";
import { isOutline, keyName, shapesOf, sourceOf } from "../model/masks";
import {
  handMatrix,
  IDENTITY,
  type Kind,
  matrixAt,
  moveBy,
  PLACE_FIELDS,
  rideShape,
  shotFrame,
  type TrackedFrame,
} from "../model/tracks";
import { bench, useBench } from "./bench";
import { changeStep } from "./edits";
import { notice } from "./notices";
import { atFrame } from "./values";

const KEY = ["tracks"];

const EVERY_MS = 250;

/** The tracks of the project. */
export const useTracks = (): Track[] | undefined =>
  useQuery({ queryKey: KEY, queryFn: listTracks }).data;

/** Where a track's part is at each frame; undefined where it is not known, or not of the clip. */
export function usePlaces(file: string | undefined): TrackPlaces | undefined {
  const clip = useBench((s) => s.clip?.id);
  const { data } = useQuery({
    queryKey: ["track", file],
    queryFn: () =>
      unwrap(api.GET("/api/v1/tracks/{file}", { params: { path: { file: file ?? "" } } })),
    enabled: Boolean(file),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  return data?.clip === clip ? data : undefined;
}

interface TrackState {
  /** The track that is being found, and of which shape. */
  finding: (Finding & { step: string; shape: string }) | null;
  /** A shape that a hand puts right at a frame: where it is until its track is found anew. */
  hand: { shape: Shape; frame: number } | null;
  /** What was put right of a track since that was found. */
  put: { file: string; hands: Hand[] };
}

const NONE_PUT = { file: "", hands: [] };

export const useTracking = create<TrackState>(() => ({ finding: null, hand: null, put: NONE_PUT }));

/** Which of several tracks that were asked for is the last. */
let turn = 0;

/** What is known of the shape that is followed: its track, and frames that were put right. */
interface Followed {
  kind: Kind;
  known?: TrackPlaces;
  byHand?: Hand[];
}

/** Follow what lies in a shape, from the frame at the play head, or as its track was found before. */
export async function follow(step: Step, own: Shape, { kind, known, byHand = [] }: Followed) {
  const { clip, frame, look, lookId } = bench();
  const source = sourceOf(look?.steps ?? [], step, own);
  const here = shapesOf(atFrame(source.step, frame)).find((s) => s.id === source.shape.id);
  if (!clip) return;
  const shape = known?.shape ?? asSeen(here ?? source.shape, clip, frame);
  if (!isOutline(shape)) return;
  const at = { step: source.step.id, shape: source.shape.id };
  const body = {
    clip: clip.id,
    title: source.shape.id,
    shape: { ...shape, id: source.shape.id, track: "" },
    frame: known?.begin ?? shotFrame(clip, frame),
    kind,
    by_hand: byHand,
    smooth: known?.smooth ?? 0,
    known: known?.file ?? null,
  };
  turn += 1;
  const mine = turn;
  try {
    const begun = await unwrap(api.POST("/api/v1/tracks/finding", { body }));
    useTracking.setState({ finding: { ...begun, ...at } });
    const found = await waitForEnd(at, mine);
    if (!found) return;
    await queryClient.invalidateQueries({ queryKey: KEY });
    if (found.error) throw new Error(found.error);
    if (!found.file) return;
    if (bench().lookId !== lookId || bench().clip?.id !== clip.id)
      throw new Error(
        `The track of ${found.title} is kept: choose it where shapes ride on tracks.`,
      );
    ride(at, found.file, known ? {} : shape);
  } catch (error) {
    notice("look", error);
  } finally {
    if (mine === turn) useTracking.setState({ hand: null, put: NONE_PUT });
  }
}

/** A shape as it is seen at a frame, where it has ridden on a track of the clip. */
function asSeen(shape: Shape, clip: Clip, frame: number): Shape {
  const track = queryClient.getQueryData<TrackPlaces>(["track", shape.track]);
  if (!track || track.clip !== clip.id) return shape;
  const move = moveBy(matrixAt(framesOf(track), shotFrame(clip, frame)));
  return rideShape(shape, move, clip.width / clip.height);
}

/** Wait until a track is found, or can't be; null once another was begun. */
async function waitForEnd(
  at: { step: string; shape: string },
  mine: number,
): Promise<Finding | null> {
  for (;;) {
    const now = await unwrap(api.GET("/api/v1/tracks/finding"));
    if (mine !== turn) return null;
    if (!now) throw new Error("The server was started again meanwhile: track it once more.");
    useTracking.setState({ finding: { ...now, ...at } });
    if (!now.running) return now;
    await new Promise((done) => setTimeout(done, EVERY_MS));
  }
}

/** Have a shape ride on a track; as it was followed it lies, and keys of its place make way. */
function ride(at: { step: string; shape: string }, file: string, followed: Partial<Shape>) {
  const step = findStep(bench().look?.steps ?? [], at.step);
  const shape = step && shapesOf(step).find((s) => s.id === at.shape);
  if (!step || !shape) return;
  const placed = Object.entries(followed).filter(([field]) => PLACE_FIELDS.includes(field));
  const gone = placed.map(([field]) => keyName(shape, field));
  const put = (s: Shape): Shape =>
    s.id === at.shape ? { ...s, ...Object.fromEntries(placed), track: file } : s;
  changeStep(at.step, (s) => ({
    ...s,
    mix: { ...s.mix, mask: shapesOf(s).map(put) },
    keys: Object.fromEntries(Object.entries(s.keys ?? {}).filter(([name]) => !gone.includes(name))),
  }));
}

export const stopFollowing = () => api.POST("/api/v1/tracks/finding/stop");

/** Have a track smoothed over some frames; resolves to the other track. */
export async function smoothTrack(file: string, smooth: number): Promise<Track> {
  const made = await unwrap(
    api.POST("/api/v1/tracks/{file}/smoothed", { params: { path: { file } }, body: { smooth } }),
  );
  await queryClient.invalidateQueries({ queryKey: KEY });
  return made;
}

/** Whether a track was found from a shape: a hand puts it right then, and does not move what rides. */
export const isOwnTrack = (track: TrackPlaces | undefined, shape: Shape): boolean =>
  track?.shape?.id === shape.id && track.shape.kind === shape.kind;

/** Frames of a track that were put right by hand, but for one. */
export const handsBut = (track: TrackPlaces, frame: number): Hand[] =>
  framesOf(track)
    .filter((place) => place.by_hand && place.frame !== frame)
    .map(({ frame, matrix }) => ({ frame, matrix }));

export const framesOf = (track: TrackPlaces | undefined): TrackedFrame[] => track?.places ?? [];

/** A shape that a hand has put where its part is at a frame, from where it was in the first one. */
interface PutRight {
  step: Step;
  own: Shape;
  track: TrackPlaces;
  shot: number;
  was: Shape;
  now: Shape;
  aspect: number;
}

/** Put a shape right on its track at a frame; once it is let go the track is found anew about it. */
export function putRight({ step, own, track, shot, was, now, aspect }: PutRight, done: boolean) {
  useTracking.setState({ hand: { shape: now, frame: shot } });
  if (!done) return;
  const { kind } = track;
  const { put } = useTracking.getState();
  const before = put.file === track.file ? put.hands : handsBut(track, shot);
  const matrix = handMatrix(was, now, kind, aspect);
  const hands = [...before.filter((hand) => hand.frame !== shot), { frame: shot, matrix }];
  useTracking.setState({ put: { file: track.file, hands } });
  void follow(step, own, { kind, known: track, byHand: hands });
}

/** A track that something rides on, and where that has taken its part at the play head. */
export function useRide(file: unknown) {
  const track = usePlaces(String(file ?? ""));
  const shot = useBench((s) => (s.clip ? shotFrame(s.clip, s.frame) : s.frame));
  return { track, shot, matrix: track ? matrixAt(framesOf(track), shot) : IDENTITY };
}
