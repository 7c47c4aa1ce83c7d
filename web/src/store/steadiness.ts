import { useQuery } from "@tanstack/react-query";
import { api, type Clip, type Look, unwrap } from "../api/client";

const ASK_MS = 400;

const key = (clip: Clip | null, look: Look | null, what: string) => [
  "steadiness",
  what,
  clip?.id,
  JSON.stringify(clip?.reading),
  look?.steps,
];

/** How steady a look is on a clip: found in the background, asked for until it is known. */
export function useSteadiness(clip: Clip | null, look: Look | null, wanted = true) {
  return useQuery({
    queryKey: key(clip, look, "found"),
    enabled: wanted && clip !== null && look !== null,
    queryFn: () =>
      unwrap(api.POST("/api/steadiness", { body: { clip: clip?.id ?? 0, look: look as never } })),
    refetchInterval: ({ state }) =>
      state.data?.report || state.data?.error || state.error ? false : ASK_MS,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Asks what is known of a look on a clip, without beginning anything. */
export const knownSteadiness = (clip: Clip | null, look: Look | null) => ({
  queryKey: key(clip, look, "known"),
  enabled: clip !== null && look !== null,
  queryFn: () =>
    unwrap(
      api.POST("/api/steadiness/known", { body: { clip: clip?.id ?? 0, look: look as never } }),
    ),
});

/** The change of one frame under a look. */
export async function steadyFrame(clip: Clip, look: Look, frame: number) {
  return unwrap(
    api.POST("/api/steadiness/frame", {
      body: { clip: clip.id, look: look as never, frame },
    }),
  );
}
