import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, NO_LOOK, type Step, unwrap } from "../api/client";
import { useBench } from "./bench";

/** What a step draws on the frame at the play head that can be taken out one by one. */
export function useMarks(step: Step) {
  const clip = useBench((s) => s.clip);
  const look = useBench((s) => s.look);
  const still = useBench((s) => !s.playing && !s.moving);
  const frame = useBench((s) => (s.playing ? 0 : s.frame));
  const { data } = useQuery({
    queryKey: ["marks", clip?.id, frame, step.id, look?.steps],
    queryFn: () =>
      unwrap(
        api.POST("/api/v1/marks", {
          body: {
            clip: clip?.id ?? 0,
            frame,
            look: look ?? NO_LOOK,
            step: step.id,
          },
        }),
      ),
    enabled: still && clip !== null && look !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 20_000,
  });
  return still ? (data ?? []) : [];
}
