import { create } from "zustand";
import { api, type Reel, type ReelSteadiness, unwrap } from "../api/client";
import { follow } from "./following";
import { inWords } from "./look";
import { notice } from "./notices";
import { reelKept } from "./reel";

/** Steadiness and flashes of a reel: how far measuring is, and what was found. */
interface ReelMeasuring {
  status: ReelSteadiness | null;
}

export const useReelMeasuring = create<ReelMeasuring>(() => ({ status: null }));

/** Measure a reel as it is; what was found of another is put away. */
export async function measureReel(reel: Reel) {
  try {
    await reelKept();
    const body = { reel: reel.id };
    const begun = await unwrap(api.POST("/api/v1/reel-steadiness/measuring", { body }));
    useReelMeasuring.setState({ status: begun });
    await follow(
      () => unwrap(api.GET("/api/v1/reel-steadiness/measuring")),
      (status) => {
        const shown = useReelMeasuring.getState().status;
        if (!shown || status?.reel !== shown.reel || status.revision < shown.revision) return false;
        useReelMeasuring.setState({ status: status.stopped ? null : status });
        if (status.error) notice("reel", status.error);
        return true;
      },
    );
  } catch (error) {
    notice("reel", inWords(error));
  }
}

/** Put away what was found; what is being measured is given up. */
export async function leaveMeasuring() {
  const running = useReelMeasuring.getState().status?.running;
  useReelMeasuring.setState({ status: null });
  if (!running) return;
  try {
    await unwrap(api.POST("/api/v1/reel-steadiness/measuring/stop"));
  } catch (error) {
    notice("reel", error);
  }
}
