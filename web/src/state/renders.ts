import { create } from "zustand";
import { api, got, type Render } from "../api/client";
import { bench, notice } from "./bench";

/** Renders of the project, the last asked for first, kept up to date by the server's events. */
export const useRenders = create<{ renders: Render[] }>(() => ({ renders: [] }));

export async function loadRenders() {
  try {
    const renders = await got(api.GET("/api/renders"));
    useRenders.setState({ renders });
    for (const render of renders) if (running(render)) follow(render.id);
  } catch (error) {
    notice("render", error);
  }
}

export const running = (render: Render) => render.state === "waiting" || render.state === "running";

function told(render: Render) {
  useRenders.setState(({ renders }) => ({
    renders: renders.map((r) => (r.id === render.id ? render : r)),
  }));
}

function follow(id: number) {
  const events = new EventSource(`/api/renders/${id}/events`);
  events.onmessage = (event) => {
    const render = JSON.parse(event.data) as Render;
    told(render);
    if (!running(render)) events.close();
  };
}

export async function startRender() {
  const { clip, look } = bench();
  if (!clip || !look) return;
  try {
    const body = { clip: clip.id, look: look as unknown as Record<string, unknown> };
    const render = await got(api.POST("/api/renders", { body }));
    useRenders.setState(({ renders }) => ({ renders: [render, ...renders] }));
    follow(render.id);
  } catch (error) {
    notice("render", error);
  }
}

export async function stopRender(id: number) {
  try {
    const path = { render_id: id };
    await got(api.POST("/api/renders/{render_id}/stop", { params: { path } }));
  } catch (error) {
    notice("render", error);
  }
}
