import createClient from "openapi-fetch";
import { busyWith } from "./busy";
import type { components, paths } from "./schema";

export type Plate = components["schemas"]["PlateOut"];
export type Track = components["schemas"]["TrackOut"];
export type TrackPlaces = components["schemas"]["TrackPlacesOut"];
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
export type Starter = components["schemas"]["StarterOut"];
export type StarterBursts = components["schemas"]["StarterBursts"];
export type Grade = components["schemas"]["Grade"];
export type Farm = components["schemas"]["FarmOut"];
export type ResultSpec = components["schemas"]["ResultSpec"];
export type PictureRequest = components["schemas"]["PictureRequest"];
export type SteadinessStatus = components["schemas"]["SteadinessOut"];
export type SteadinessReport = components["schemas"]["SteadinessReport"];
export type PathRequest = components["schemas"]["PathRequest"];
type Problem = components["schemas"]["Problem"];

/** A look document, as in files: `yearning-look/2`. */
export type Points = [number, number][];
export type Stops = [number, string][];
export type SettingValue =
  | number
  | string
  | boolean
  | number[]
  | string[]
  | [number, number][]
  | Points
  | Stops
  | PlacedBlock[]
  | PathPoint[]
  | Step[];
/** A block of the picture drawn by hand, in fractions of the frame, and its throw in px@1080. */
export interface PlacedBlock {
  left: number;
  top: number;
  width: number;
  height: number;
  throw: number;
}
/** A point of a path, and its handles towards the one before and the one after, relative to it. */
export type PathPoint = [number, number, number, number, number, number];
/** One part of a mask; one that is the same as another step's has that shape's name and no kind. */
export interface Shape {
  id: string;
  kind?: string;
  same_as?: string;
  join: "add" | "take away" | "keep common";
  strength: number;
  invert: boolean;
  [field: string]: SettingValue | undefined;
}
export type ShapeKind = components["schemas"]["ShapeOut"];
export interface Mix {
  blend: string;
  amount: number;
  tones?: Points | null;
  /** Where the step shows, joined in order; with none, everywhere. */
  mask?: Shape[];
  /** What a blend mode other than the treatment's own lays: what it adds, or the treated picture. */
  layer?: "own" | "treated";
  /** Whether a blend sees what lies beyond black and white. */
  beyond?: "cut" | "keep";
  reads?: string;
}
/** How a key leads on to the next: by a word, or by the handles of a cubic Bézier. */
export type Ease = "hold" | "straight" | "ease" | [number, number, number, number];
export interface Keyframe {
  frame: number;
  value: SettingValue | null;
  ease: Ease;
}
export type Burst = components["schemas"]["Burst"];
export type BurstsRule =
  | components["schemas"]["Repeated"]
  | components["schemas"]["Scattered"]
  | components["schemas"]["OnSound"];
export type PageMemory = components["schemas"]["PageMemory"];
export type Values = components["schemas"]["ValuesOut"];
export interface Step {
  id: string;
  treatment: string;
  /** What a bundle is called. */
  name?: string;
  settings: Record<string, SettingValue>;
  mix: Mix;
  /** Keys by the setting they pin; those of the mix are `mix.amount` and `mix.tones`. */
  keys?: Record<string, Keyframe[]>;
  bursts?: Burst[];
  on: boolean;
  /** What it is there for, in words. */
  note?: string;
}
export interface Look {
  format: "yearning-look/2";
  name: string;
  steps: Step[];
}

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
  if (data === undefined || error !== undefined) throw refusal(response.status, error);
  return data;
}

async function fetchPicture(
  request: object,
  signal: AbortSignal,
  address = "/api/pictures",
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

/** A frame of the footage, with what is not lifted out of it dim. */
export const glimpseOf = (request: GlimpseRequest, signal: AbortSignal) =>
  fetchPicture(request, signal, "/api/mattes/glimpse");

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
): Promise<T> {
  const sent = new Promise<T>((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `${address}?name=${encodeURIComponent(name)}`);
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
  sendFile<Clip>("/api/clips", name, file, sending);

export const sendPlate = (file: File, sending: Sending) =>
  sendFile<Plate>("/api/plates", file.name, file, sending);

export const sendTrack = (file: File, sending: Sending) =>
  sendFile<Track>("/api/tracks", file.name, file, sending);

/** Send a file as a look-up table; gives the name that looks have it under. */
export const sendTable = (file: File, sending: Sending) =>
  sendFile<{ file: string; title: string }>("/api/tables", file.name, file, sending);

/** Send an ASC CDL file; gives the grade in it. */
export const sendGrade = (file: File, sending: Sending = {}) =>
  sendFile<Grade>("/api/grades", file.name, file, sending);
