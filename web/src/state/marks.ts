import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, got, type Step } from "../api/client";
import { useBench } from "./bench";

/** What a step draws on the frame at the play head that can be taken out one by one. */
export function useMarks(step: Step) {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  const still = useBench((s) => !s.playing && !s.moving);
  const { data } = useQuery({
    queryKey: ["marks", clip?.id, frame, step],
    queryFn: () =>
      got(
        api.POST("/api/marks", {
          body: {
            clip: clip?.id ?? 0,
            frame,
            look: { format: "yearning-look/1", steps: [alone(step)] } as never,
            step: step.id,
          },
        }),
      ),
    enabled: still && clip !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 20_000,
  });
  return still ? (data ?? []) : [];
}

/** The step, as it can stand in a look by itself. */
const alone = (step: Step): Step => ({ ...step, mix: { ...step.mix, reads: "so far" } });
