import { create } from "zustand";
import {
  api,
  type Clip,
  type ClipMemory,
  type Farm,
  type Look,
  NO_ANSWER,
  type Render,
  type ResultSpec,
  unwrap,
} from "../api/client";
import { bench, setState } from "./bench";
import { inWords } from "./look";
import { notice } from "./notices";

/** Renders of the project, the last asked for first, kept up to date by the server's events. */
export const useRenders = create<{ renders: Render[] }>(() => ({ renders: [] }));

/** How the next render is wanted; what is null is as the footage. */
export interface RenderOptions {
  codec: ResultSpec["codec"];
  quality: ResultSpec["quality"];
  bits: number | null;
  height: number | null;
  /** What the look lays over the clip alone, with alpha; where the codec has it. */
  overlay: boolean;
  /** First and last frame by clip; null is the clip's own end. */
  ranges: Record<number, Range>;
}
export type Range = ClipMemory["rendered"];
const WHOLE: Range = [null, null];

export const useRenderOptions = create<RenderOptions>(() => ({
  codec: "H.264",
  quality: "fine",
  bits: null,
  height: null,
  overlay: false,
  ranges: {},
}));

/** Which frames of a clip a render is to have; what lies beyond its end is not meant. */
export function rangeOf(clip: Clip, { ranges } = useRenderOptions.getState()): Range {
  const [first, last] = ranges[clip.id] ?? WHOLE;
  const reach = (frame: number | null) => (frame !== null && frame < clip.frames ? frame : null);
  return [reach(first), reach(last)];
}

export function setRange(clip: Clip, range: Range) {
  useRenderOptions.setState(({ ranges }) => ({ ranges: { ...ranges, [clip.id]: range } }));
}

export const isUnended = (render: Render) =>
  render.state === "waiting" || render.state === "running" || render.state === "paused";

function update(render: Render) {
  useRenders.setState(({ renders }) => {
    const others = renders.filter((r) => r.id !== render.id);
    return { renders: [...others, render].sort((a, b) => b.id - a.id) };
  });
}

/** Hear of all renders, and of every change from now on; and whether the server is there. */
export function subscribeToRenders() {
  const events = new EventSource("/api/v1/renders/events");
  events.onmessage = (event) => update(JSON.parse(event.data) as Render);
  events.onerror = () => setState({ gone: true }); // the browser asks again by itself
  events.onopen = () =>
    setState({ gone: false, notices: bench().notices.filter((n) => n.text !== NO_ANSWER) });
}

/** Render a clip's frames through a look as is wanted. */
export async function startRender(clip: Clip, look: Look, lookId: number | null) {
  const { codec, quality, bits, height, overlay } = useRenderOptions.getState();
  const [first, last] = rangeOf(clip);
  try {
    const smaller = height !== null && height < clip.height ? height : null;
    const result = { codec, quality, bits, height: smaller, overlay, first: first ?? 0, last };
    const body = {
      clip: clip.id,
      look,
      look_id: lookId,
      result,
    };
    await unwrap(api.POST("/api/v1/renders", { body }));
  } catch (error) {
    notice("render", `${clip.name}: ${inWords(error)}`);
  }
}

/** Render the clip on the bench through the look there. */
export async function renderBench() {
  const { clip, look, lookId } = bench();
  if (!clip || !look) return;
  setState({ panel: "renders" });
  await startRender(clip, look, lookId);
}

/** Render the same clip and result once more, with the look as it was then, or is now. */
export async function renderAgain(render: Render, look: "then" | "now") {
  const params = { path: { render_id: render.id }, query: { look } };
  try {
    await unwrap(api.POST("/api/v1/renders/{render_id}/repeat", { params }));
  } catch (error) {
    notice("render", `${render.clip_name}: ${inWords(error)}`);
  }
}

/** Hide a render that has ended. */
export async function hideRender(render: Render) {
  try {
    const params = { path: { render_id: render.id } };
    await unwrap(api.DELETE("/api/v1/renders/{render_id}", { params }));
  } catch (error) {
    notice("render", error);
  }
}

type RenderAction = "stop" | "resume" | "prioritize" | "restore";

/** Do something with a render. */
export async function actOnRender(render: Render, action: RenderAction) {
  const params = { path: { render_id: render.id } };
  try {
    await unwrap(api.POST(`/api/v1/renders/{render_id}/${action}`, { params }));
  } catch (error) {
    notice("render", error);
  }
}

/** Delete what is finished of a render that has not ended well. */
export async function deletePieces(render: Render) {
  const params = { path: { render_id: render.id } };
  try {
    await unwrap(api.DELETE("/api/v1/renders/{render_id}/pieces", { params }));
  } catch (error) {
    notice("render", error);
  }
}

/** Say where renders are made; returns what stands. */
export async function setFarm(farm: { workers?: number; address?: string }): Promise<Farm | null> {
  try {
    return await unwrap(api.PUT("/api/v1/farm", { body: farm }));
  } catch (error) {
    notice("render", error);
    return null;
  }
}
