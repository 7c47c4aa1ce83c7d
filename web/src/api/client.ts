import createClient from "openapi-fetch";
import { busyWith } from "./busy";
import type { components, paths } from "./schema";

export type Plate = components["schemas"]["PlateOut"];
export type Grain = components["schemas"]["GrainOut"];
export type Track = components["schemas"]["TrackOut"];
export type TrackPlaces = components["schemas"]["TrackPlacesOut"];
/** Where places of the frame are seen after some steps: a grid of them. */
export type FrameGrid = components["schemas"]["FrameMapOut"];
export type Finding = components["schemas"]["FindingOut"];
export type Matting = components["schemas"]["ProgressOut"];
export type Stroke = components["schemas"]["Stroke"];
export type GlimpseRequest = components["schemas"]["GlimpseRequest"];
export type Clip = components["schemas"]["ClipOut"];
export type LookState = components["schemas"]["LookOut"];
export type Treatment = components["schemas"]["TreatmentOut"];
export type Setting = components["schemas"]["SettingOut"];
export type Catalogue = components["schemas"]["CatalogueOut"];
export type Render = components["schemas"]["RenderOut"];
export type ResultKind = components["schemas"]["ResultOut"];
export type Readings = components["schemas"]["ReadingsOut"];
export type Drawing = components["schemas"]["Drawing"];
export type Value = components["schemas"]["ValueOut"];
export type History = components["schemas"]["History"];
/** A change of how a clip is read, of its ranges, or of a reel. */
export type Entry =
  | components["schemas"]["ReadingChange"]
  | components["schemas"]["PlayedChange"]
  | components["schemas"]["RenderedChange"]
  | components["schemas"]["ReelEdit"];
export type Reading = components["schemas"]["ReadingIn"];
export type Hand = components["schemas"]["HandOut"];
export type Snapshot = components["schemas"]["Snapshot"];
export type Sheet = components["schemas"]["Sheet"];
export type Boundary = components["schemas"]["BoundaryOut"];
export type Boundaries = components["schemas"]["BoundariesOut"];
export type Movie = components["schemas"]["MovieOut"];
export type ReelSteadiness = components["schemas"]["ReelSteadinessOut"];
export type ReelReport = components["schemas"]["ReelReportOut"];
export type Reel = components["schemas"]["ReelOut"];
export type ReelItem = Reel["items"][number];
export type ReelShot = Extract<ReelItem, { kind: "shot" }>;
export type ReelSound = Reel["sounds"][number];
export type Sound = components["schemas"]["SoundFileOut"];
/** How loud a sound is: peaks, so many a second of it, in 255ths of full scale. */
export type Levels = components["schemas"]["LevelsOut"];
export type ReelResult = components["schemas"]["ReelResultOut"];
export type ReelPlayRequest = components["schemas"]["ReelPlayRequest"];
/** A frame of a clip. */
export type Shot = components["schemas"]["SheetShot"];
export type Span = components["schemas"]["ValueSpan"];
/** Values of one setting. */
export type TriedValues =
  | components["schemas"]["SpanSubject"]
  | components["schemas"]["ChoicesSubject"];
/** A grade that was found for a clip, at several amounts. */
export type MatchSubject = components["schemas"]["MatchSubject"];
export type MatchRequest = components["schemas"]["MatchRequest"];
export type MatchProgress = components["schemas"]["MatchProgress"];
/** Amounts with which a step does alike on each clip. */
export type EvenSubject = components["schemas"]["EvenSubject"];
export type EvenAmountsRequest = components["schemas"]["EvenAmountsRequest"];
export type EvenAmountsProgress = components["schemas"]["EvenAmountsProgress"];
export type KeptSheet = components["schemas"]["ProofSheetOut"];
export type ContactSheet = components["schemas"]["ContactSheetRequest"];
export type PlayRequest = components["schemas"]["PlayRequest"];
/** A line of an answer: how far it is. */
export type Progress = components["schemas"]["Measured"];
export type KeptStep = components["schemas"]["KeptStep"];
export type ClipMemory = components["schemas"]["ClipMemory"];
export type Starter = components["schemas"]["StarterOut"];
export type StarterBursts = components["schemas"]["StarterBursts"];
export type Grade = components["schemas"]["Grade"];
export type Farm = components["schemas"]["FarmOut"];
export type ResultSpec = components["schemas"]["ResultSpec"];
export type PictureRequest = components["schemas"]["ShownRequest"];
export type SteadinessStatus = components["schemas"]["SteadinessOut"];
export type SteadinessReport = components["schemas"]["SteadinessReport"];
type Problem = components["schemas"]["Problem"];

export type Look = components["schemas"]["Look"];
/** What of a look holds for one clip alone. */
export type Fitting = components["schemas"]["Fitting"];
/** What of a step holds for one clip alone. */
export type StepFitting = components["schemas"]["StepFitting"];
/** A step in the form that every treatment's has; `isA` tells one treatment's from others. */
export type Step = components["schemas"]["OpenStep"];
export type StepOf<T extends string> = Extract<components["schemas"]["Step"], { treatment: T }>;
export type SettingValue = components["schemas"]["SettingValue"];
export type PlacedLobe = components["schemas"]["PlacedLobe"];
export type PlacedBlock = components["schemas"]["PlacedBlock"];
export type Mix = components["schemas"]["OpenMix"];
/** A shape of a mask in the form that every kind has; `isShape` tells a kind from others. */
export type Shape = components["schemas"]["OpenShape"];
type ShapeUnion = components["schemas"]["Shape"];
export type ShapeKindName = Extract<ShapeUnion, { kind: string }>["kind"];
export type ShapeOf<K extends ShapeKindName> = Extract<ShapeUnion, { kind: K }>;
export type Outline = components["schemas"]["Outline"];
export type PathPoint = components["schemas"]["BezierPath"]["points"][number];
export type Points = NonNullable<components["schemas"]["Mix"]["tones"]>;
export type Stops = components["schemas"]["Ramp"]["stops"];
export type Keyframe = components["schemas"]["Key"];
/** How a key leads on to the next: by a word, or by the handles of a cubic Bézier. */
export type Ease = Keyframe["ease"];
export type ShapeKind = components["schemas"]["ShapeOut"];
export type Burst = components["schemas"]["Burst"];
export type BurstsRule =
  | components["schemas"]["Repeated"]
  | components["schemas"]["Scattered"]
  | components["schemas"]["OnSound"];
export type PageMemory = components["schemas"]["PageMemory"];
export type Values = components["schemas"]["ValuesOut"];

/** The footage itself: what is asked about while there is no look. */
export const NO_LOOK: Look = { format: "yearning-look/3", name: "No look", steps: [] };

export const api = createClient<paths>({ baseUrl: window.location.origin });

export const NO_ANSWER = "The server did not answer; is it still running?";

/** What went wrong, in the server's words. */
export class Refusal extends Error {
  constructor(
    public status: number,
    detail: string,
  ) {
    super(detail);
  }
}

export function refusal(status: number, body: unknown): Refusal {
  const detail = (body as Problem | undefined)?.detail;
  return new Refusal(status, detail ?? NO_ANSWER);
}

/** The data of an answer, or a Refusal thrown. */
export async function unwrap<T>(
  answer: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  const { data, error, response } = await busyWith(answer).catch(() => {
    throw refusal(0, undefined);
  });
  const isEmpty = response.status === 204;
  if ((data === undefined && !isEmpty) || error !== undefined)
    throw refusal(response.status, error);
  return data as T;
}

/** What the server makes of a file's text. */
const checked = <T>(address: string, text: string): Promise<T> =>
  busyWith(
    fetch(address, { method: "POST", body: text }).then(async (response) => {
      const answer = await response.json();
      if (!response.ok) throw refusal(response.status, answer);
      return answer;
    }),
  );

/** The text of a look file as it is understood: whole, and of the newest format. */
export const checkedLook = (text: string) =>
  checked<components["schemas"]["CheckedLook"]>("/api/v1/looks/check", text);

/** The text of a fitting file as it is understood, and what of it does not go with a look. */
export const checkedFitting = (lookId: number, text: string) =>
  checked<components["schemas"]["CheckedFitting"]>(`/api/v1/looks/${lookId}/fittings/check`, text);

async function fetchPicture(
  request: object,
  signal: AbortSignal,
  address = "/api/v1/pictures",
): Promise<Blob> {
  const response = await fetch(address, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(request),
    signal,
  }).catch((error) => {
    throw signal.aborted ? error : refusal(0, undefined);
  });
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined));
  return response.blob();
}

/** A picture as a bitmap; `signal` gives it up. */
export const bitmap = async (request: PictureRequest, signal: AbortSignal) =>
  createImageBitmap(await fetchPicture(request, signal));

/** A picture of a look, small and by itself. */
export const pictureOf = (
  clip: Clip,
  look: Look,
  more: Partial<PictureRequest>,
  signal: AbortSignal,
) => fetchPicture({ clip: clip.id, look, ...more }, signal);

/** Pictures with their captions on one sheet. */
export const contactSheet = (sheet: ContactSheet) =>
  busyWith(fetchPicture(sheet, new AbortController().signal, "/api/v1/contact-sheets"));

/** A frame of the footage, with what is not lifted out of it dim. */
export const glimpseOf = (request: GlimpseRequest, signal: AbortSignal) =>
  fetchPicture(request, signal, "/api/v1/mattes/previews");

/** How far a file has gone, and what stops it. */
export interface Sending {
  onProgress?: (part: number) => void;
  signal?: AbortSignal;
}

/** Send a file as a request's body. */
function sendFile<T>(
  address: string,
  name: string,
  file: Blob,
  { onProgress, signal }: Sending = {},
  more: Record<string, number> = {},
): Promise<T> {
  const query = new URLSearchParams({ name });
  for (const [key, value] of Object.entries(more)) query.set(key, `${value}`);
  const sent = new Promise<T>((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `${address}?${query}`);
    request.responseType = "json";
    request.upload.onprogress = (event) => onProgress?.(event.loaded / Math.max(event.total, 1));
    request.onload = () =>
      request.status < 300 && request.response
        ? resolve(request.response as T)
        : reject(refusal(request.status, request.response));
    request.onerror = () => reject(refusal(0, undefined));
    request.onabort = () => reject(new Refusal(0, "stopped; nothing of it is kept"));
    signal?.addEventListener("abort", () => request.abort());
    request.send(file);
  });
  return busyWith(sent);
}

/** Send a clip, or numbered stills as an archive. */
export const sendClip = (name: string, file: Blob, sending: Sending) =>
  sendFile<Clip>("/api/v1/clips", name, file, sending);

export const sendPlate = (file: File, sending: Sending) =>
  sendFile<Plate>("/api/v1/plates", file.name, file, sending);

export const sendTrack = (file: File, sending: Sending) =>
  sendFile<Track>("/api/v1/tracks", file.name, file, sending);

/** Send a file as a look-up table; gives the name that looks have it under. */
export const sendTable = (file: File, sending: Sending) =>
  sendFile<{ file: string; title: string }>("/api/v1/tables", file.name, file, sending);

/** Send a timeline; gives the reel that it is here. An edit list can be said the rate of. */
export const sendTimeline = (file: File, rate: number | null, sending: Sending) =>
  sendFile<Reel>(
    "/api/v1/reels/timelines",
    file.name,
    file,
    sending,
    rate === null ? {} : { rate },
  );

export const sendSound = (file: File, sending: Sending) =>
  sendFile<Sound>("/api/v1/sounds", file.name, file, sending);

export const readSoundLevels = (file: string) =>
  unwrap(api.GET("/api/v1/sounds/{file}/levels", { params: { path: { file } } }));

export const readClipSoundLevels = (clip_id: number) =>
  unwrap(api.GET("/api/v1/clips/{clip_id}/sound/levels", { params: { path: { clip_id } } }));

export const sendGrain = (file: File, sending: Sending) =>
  sendFile<Grain>("/api/v1/grains", file.name, file, sending);

/** Measure the grain of a plate. */
export const measureGrain = (file: string) =>
  unwrap(api.POST("/api/v1/plates/{file}/grain", { params: { path: { file } } }));

/** Send an ASC CDL file; gives the grade in it. */
export const sendGrade = (file: File, sending: Sending = {}) =>
  sendFile<Grade>("/api/v1/grades", file.name, file, sending);
