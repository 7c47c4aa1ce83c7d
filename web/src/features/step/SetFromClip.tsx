import type { Step } from "../../api/client";
import { streamProgress } from "../../api/progress";
import { inputOf } from "../../model/stepInput";
import { bench } from "../../store/bench";
import { benchSteps } from "../../store/look";
import { notice } from "../../store/notices";
import { Measuring } from "./Measuring";
import { changeSettings } from "./SettingControl";

/** Sets a step from what the whole clip measures, once: so that it does not pump. */
export function SetFromClip({ step }: { step: Step }) {
  const measure = async (onPart: (part: number) => void, signal: AbortSignal) => {
    const { clip, look } = bench();
    if (!clip || !look) return;
    try {
      const after = inputOf(step.id, benchSteps());
      const ask = { clip: clip.id, look, after, treatment: step.treatment };
      for await (const progress of streamProgress("/api/v1/fits", ask, signal)) {
        onPart(progress.done / progress.total);
        if (progress.settings) changeSettings(step, progress.settings, true);
      }
    } catch (error) {
      if (!signal.aborted) notice("look", error);
    }
  };
  return (
    <Measuring
      name="Set from clip"
      title="Measure frames spread over the whole clip, and set this step by them, once"
      says="Measuring the clip"
      onMeasure={measure}
    />
  );
}
