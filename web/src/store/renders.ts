import { create } from "zustand";
import {
  api,
  type Clip,
  type Farm,
  got,
  type Look,
  type Render,
  type ResultAsk,
} from "../api/client";
import { bench, notice, put } from "./bench";

/** Renders of the project, the last asked for first, kept up to date by the server's events. */
export const useRenders = create<{ renders: Render[] }>(() => ({ renders: [] }));

/** How the next render is wanted; what is null is as the footage. */
export interface Wanted {
  codec: ResultAsk["codec"];
  quality: ResultAsk["quality"];
  bits: number | null;
  height: number | null;
  first: number | null;
  last: number | null;
}
export const useWanted = create<Wanted>(() => ({
  codec: "H.264",
  quality: "fine",
  bits: null,
  height: null,
  first: null,
  last: null,
}));

export const unended = (render: Render) =>
  render.state === "waiting" || render.state === "running" || render.state === "paused";

function told(render: Render) {
  useRenders.setState(({ renders }) => {
    const others = renders.filter((r) => r.id !== render.id);
    return { renders: [...others, render].sort((a, b) => b.id - a.id) };
  });
}

/** Hear of all renders, and of every change from now on. */
export function followRenders() {
  const events = new EventSource("/api/renders/events");
  events.onmessage = (event) => told(JSON.parse(event.data) as Render);
}

/** Render a clip through a look as is wanted, but for what is given otherwise. */
export async function startRender(clip: Clip, look: Look, otherwise: Partial<ResultAsk> = {}) {
  const { codec, quality, bits, height } = useWanted.getState();
  try {
    const smaller = height !== null && height < clip.height ? height : null;
    const result = { codec, quality, bits, height: smaller, first: 0, ...otherwise };
    const body = { clip: clip.id, look: look as unknown as Record<string, unknown>, result };
    await got(api.POST("/api/renders", { body }));
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error);
    notice("render", `${clip.name}: ${reason}`);
  }
}

/** Render the clip on the bench through the look there, in the range and at the depth it shows. */
export async function renderBench() {
  const { clip, look } = bench();
  if (!clip || !look) return;
  const { first, last } = useWanted.getState();
  put({ face: "renders" });
  await startRender(clip, look, { bits: null, first: first ?? 0, last });
}

type Did = "stop" | "go-on" | "sooner" | "let-go" | "again";

/** Do something with a render. */
export async function doWith(render: Render, what: Did) {
  const params = { path: { render_id: render.id } };
  try {
    await got(api.POST(`/api/renders/{render_id}/${what}`, { params }));
  } catch (error) {
    notice("render", error);
  }
}

/** Say where renders are made; returns what stands. */
export async function setFarm(farm: { workers?: number; address?: string }): Promise<Farm | null> {
  try {
    return await got(api.PUT("/api/farm", { body: farm }));
  } catch (error) {
    notice("render", error);
    return null;
  }
}
