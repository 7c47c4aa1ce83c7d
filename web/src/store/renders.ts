import { create } from "zustand";
import {
  api,
  type Clip,
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
  first: number | null;
  last: number | null;
}
export const useRenderOptions = create<RenderOptions>(() => ({
  codec: "H.264",
  quality: "fine",
  bits: null,
  height: null,
  first: null,
  last: null,
}));

export const unended = (render: Render) =>
  render.state === "waiting" || render.state === "running" || render.state === "paused";

function update(render: Render) {
  useRenders.setState(({ renders }) => {
    const others = renders.filter((r) => r.id !== render.id);
    return { renders: [...others, render].sort((a, b) => b.id - a.id) };
  });
}

/** Hear of all renders, and of every change from now on; and whether the server is there. */
export function subscribeToRenders() {
  const events = new EventSource("/api/renders/events");
  events.onmessage = (event) => update(JSON.parse(event.data) as Render);
  events.onerror = () => setState({ gone: true }); // the browser asks again by itself
  events.onopen = () =>
    setState({ gone: false, notices: bench().notices.filter((n) => n.text !== NO_ANSWER) });
}

/** Render a clip through a look as is wanted, but for what is given otherwise. */
export async function startRender(clip: Clip, look: Look, otherwise: Partial<ResultSpec> = {}) {
  const { codec, quality, bits, height } = useRenderOptions.getState();
  try {
    const smaller = height !== null && height < clip.height ? height : null;
    const result = { codec, quality, bits, height: smaller, first: 0, ...otherwise };
    const body = { clip: clip.id, look: look as unknown as Record<string, unknown>, result };
    await unwrap(api.POST("/api/renders", { body }));
  } catch (error) {
    notice("render", `${clip.name}: ${inWords(error)}`);
  }
}

/** Render the clip on the bench through the look there, in the range and at the depth it shows. */
export async function renderBench() {
  const { clip, look } = bench();
  if (!clip || !look) return;
  const { first, last } = useRenderOptions.getState();
  setState({ panel: "renders" });
  await startRender(clip, look, { bits: null, first: first ?? 0, last });
}

type RenderAction = "stop" | "resume" | "prioritize" | "discard" | "repeat";

/** Do something with a render. */
export async function actOnRender(render: Render, action: RenderAction) {
  const params = { path: { render_id: render.id } };
  try {
    await unwrap(api.POST(`/api/renders/{render_id}/${action}`, { params }));
  } catch (error) {
    notice("render", error);
  }
}

/** Say where renders are made; returns what stands. */
export async function setFarm(farm: { workers?: number; address?: string }): Promise<Farm | null> {
  try {
    return await unwrap(api.PUT("/api/farm", { body: farm }));
  } catch (error) {
    notice("render", error);
    return null;
  }
}
