import { api, type Reel, unwrap } from "../api/client";
import { inWords } from "./look";
import { notice } from "./notices";
import { reelKept } from "./reel";
import { useRenderOptions } from "./renders";

/** Renders of a reel's shots. */

/** What has been rendered of each shot as it is now. */
export const reelResults = (reel: Reel, seen: string) => ({
  queryKey: ["reel results", reel.id, reel.revision, seen],
  queryFn: () =>
    unwrap(api.GET("/api/v1/reels/{reel_id}/results", { params: { path: { reel_id: reel.id } } })),
});

/** Render shots as is wanted, but those that are rendered so; says what came of it. */
export async function renderShots(reel: Reel, handles: number, shots: string[] | null) {
  const { codec, quality, bits, height, overlay } = useRenderOptions.getState();
  try {
    await reelKept();
    const params = { path: { reel_id: reel.id } };
    const result = { codec, quality, bits, height, overlay, first: 0, last: null };
    const body = { result, handles, shots };
    const done = await unwrap(api.POST("/api/v1/reels/{reel_id}/renders", { params, body }));
    for (const why of done.refused) notice("reel", why);
    return done;
  } catch (error) {
    notice("reel", inWords(error));
    return null;
  }
}
