import type { LookState, Render } from "../api/client";

/** Whether a look, as it stands on the clip, has changed since that was rendered with it. */
export const isOlder = (render: Render, look: LookState | undefined): boolean =>
  look !== undefined && (look.digests[render.clip] ?? look.digest) !== render.look_digest;

/** Of results with looks that have changed, the newest of each clip, look, range and kind. */
export function olderThanTheirLooks(renders: Render[], looks: LookState[]): Render[] {
  const newest = new Map<string, Render>();
  for (const render of renders.filter((r) => r.state === "done").sort((a, b) => a.id - b.id)) {
    const { clip, look_id, first, total, summary } = render;
    newest.set(JSON.stringify([clip, look_id, first, total, summary]), render);
  }
  return [...newest.values()].filter((render) =>
    isOlder(
      render,
      looks.find((look) => look.id === render.look_id),
    ),
  );
}
