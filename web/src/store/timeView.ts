import { create } from "zustand";
import { ALL, following, shiftView, type TimeView, zoomedAbout } from "../model/timeView";
import { bench, useBench } from "./bench";

/** Which part of the clip's time is shown. */
export const useTimeView = create<TimeView>(() => ALL);

/** Enlarge time about the play head, or make it smaller again. */
export function zoomTime(by: number) {
  const { clip, frame } = bench();
  if (clip) useTimeView.setState(zoomedAbout(useTimeView.getState(), by, frame, clip.frames));
}

/** Move along by a part of what is shown. */
export const shiftTime = (by: number) =>
  useTimeView.setState(shiftView(useTimeView.getState(), by));

export const showAllTime = () => useTimeView.setState(ALL);

/** Another clip is seen whole; the play head stays in view. */
export function startTimeView() {
  useBench.subscribe((now, before) => {
    if (now.clip?.id !== before.clip?.id) showAllTime();
    else if (now.clip && now.frame !== before.frame)
      useTimeView.setState(following(useTimeView.getState(), now.frame, now.clip.frames));
  });
}
