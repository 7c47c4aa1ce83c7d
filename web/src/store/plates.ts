import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Plate, type Step, unwrap } from "../api/client";
import { listPlates } from "../api/lists";
import { queryClient } from "../api/queries";
import { arriving } from "./arrivals";

const KEY = ["plates"];

/** The plates of the project. */
export function usePlates(): Plate[] | undefined {
  return useQuery({ queryKey: KEY, queryFn: listPlates }).data;
}

/** A plate has come into the project by other ways. */
export const plateHasCome = () => void queryClient.invalidateQueries({ queryKey: KEY });

/** What can be made by those who have no plates. */
export function useKinds() {
  const { data } = useQuery({
    queryKey: ["plate kinds"],
    queryFn: () => unwrap(api.GET("/api/v1/plates/kinds")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? [];
}

/** How much of a step's plate is used, and why nothing of it is seen where that is so. */
export function useUsed(step: Step) {
  const { data } = useQuery({
    queryKey: ["plate used", step.settings],
    queryFn: () =>
      unwrap(
        api.POST("/api/v1/plates/uses", {
          body: { step },
        }),
      ),
    enabled: step.settings.file !== "",
    retry: false,
    gcTime: 20_000,
  });
  return step.settings.file === "" ? undefined : data;
}

async function refreshPlates(client: QueryClient, made: Promise<Plate>): Promise<Plate> {
  const plate = await made;
  await client.invalidateQueries({ queryKey: KEY });
  return plate;
}

const EVERY_MS = 300;

/** Have a plate computed, showing how far it is; undefined where it failed or was stopped. */
function making(kind: string, client: QueryClient): Promise<Plate | undefined> {
  return arriving(kind, "Making", async (onProgress, signal) => {
    signal.addEventListener("abort", () => void api.POST("/api/v1/plates/generation/stop"));
    const timer = setInterval(async () => {
      const { data } = await api
        .GET("/api/v1/plates/generation")
        .catch(() => ({ data: undefined }));
      if (data) onProgress(data.done / Math.max(data.total, 1));
    }, EVERY_MS);
    try {
      const body = { kind, seed: 1 };
      return await refreshPlates(client, unwrap(api.POST("/api/v1/plates/generated", { body })));
    } finally {
      clearInterval(timer);
    }
  });
}

/** Ways to a plate that is not there yet. */
export function useNewPlates() {
  const client = useQueryClient();
  return {
    make: (kind: string) => making(kind, client),
    ofClip: (clip_id: number) =>
      refreshPlates(
        client,
        unwrap(api.POST("/api/v1/plates/of-clips/{clip_id}", { params: { path: { clip_id } } })),
      ),
  };
}
