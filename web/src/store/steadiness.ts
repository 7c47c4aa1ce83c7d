import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Clip, type Look, NO_LOOK, unwrap } from "../api/client";

const ASK_MS = 400;

const examineLook = (clip: Clip | null, look: Look | null, again: boolean) =>
  unwrap(
    api.POST("/api/v1/analyses", {
      body: { clip: clip?.id ?? 0, look: look ?? NO_LOOK, again },
    }),
  );

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
    queryFn: () => examineLook(clip, look, false),
    refetchInterval: ({ state }) =>
      state.data?.report || state.data?.error || state.data?.stopped || state.error
        ? false
        : ASK_MS,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Gives up looking through a clip, or begins anew what was given up. */
export function useExamination(clip: Clip | null, look: Look | null) {
  const queries = useQueryClient();
  const change = (ask: () => Promise<unknown>) => async () => {
    await ask();
    await queries.invalidateQueries({ queryKey: ["steadiness", "found"] });
  };
  return {
    stop: change(() => api.POST("/api/v1/analyses/stop")),
    again: change(() => examineLook(clip, look, true)),
  };
}

/** Asks what is known of a look on a clip, without beginning anything. */
export const knownSteadiness = (clip: Clip | null, look: Look | null) => ({
  queryKey: key(clip, look, "known"),
  enabled: clip !== null && look !== null,
  queryFn: () =>
    unwrap(
      api.POST("/api/v1/analyses/known", { body: { clip: clip?.id ?? 0, look: look ?? NO_LOOK } }),
    ),
});

/** The change of one frame under a look. */
export async function steadyFrame(clip: Clip, look: Look, frame: number) {
  return unwrap(
    api.POST("/api/v1/frame-changes", {
      body: { clip: clip.id, look: look, frame },
    }),
  );
}
