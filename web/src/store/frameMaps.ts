import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Step, unwrap } from "../api/client";
import { type FrameMap, mapOfGrid } from "../model/frameMaps";
import { isWindow } from "../model/frames";
import { useBench } from "./bench";
import { treatmentOf } from "./look";

export const warpsFrame = (step: Step): boolean => treatmentOf(step)?.warps ?? false;

/**
 * Where steps move the frame at the play head; null while they are crops and letterboxes alone,
 * which the page knows by itself, and undefined until it is known. In play it stays as it was at
 * rest.
 */
export function useFrameMap(moving: Step[]): FrameMap | null | undefined {
  const clip = useBench((s) => s.clip?.id);
  const playing = useBench((s) => s.playing);
  const frame = useBench((s) => (s.playing ? null : s.frame));
  const known = clip === undefined || moving.every(isWindow);
  const { data, isError } = useQuery({
    queryKey: ["frame map", clip, frame, moving],
    queryFn: async ({ signal }) => {
      const look = { format: "yearning-look/3" as const, name: "What moves", steps: moving };
      const body = { clip: clip ?? 0, frame: frame ?? 0, look };
      const grid = await unwrap(api.POST("/api/v1/frame-maps", { body, signal }));
      return grid.places.length ? mapOfGrid(grid) : null;
    },
    enabled: !known && !playing,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 20_000,
  });
  return known || isError ? null : data;
}
