import { Box, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { busyWith } from "../../api/busy";
import type { Step } from "../../api/client";
import { streamProgress } from "../../api/progress";
import { inputOf } from "../../model/stepInput";
import { bench } from "../../store/bench";
import { benchSteps } from "../../store/look";
import { notice } from "../../store/notices";
import { Button } from "../../ui/Button";
import { changeSettings } from "./SettingControl";

/** Sets a step from what the whole clip measures, once: so that it does not pump. */
export function SetFromClip({ step }: { step: Step }) {
  const [part, setPart] = useState<number | null>(null);
  const giveUp = useRef(new AbortController());
  const measure = async () => {
    const { clip, look } = bench();
    if (!clip || !look) return;
    giveUp.current = new AbortController();
    setPart(0);
    try {
      const after = inputOf(step.id, benchSteps());
      const ask = { clip: clip.id, look, after, treatment: step.treatment };
      for await (const progress of streamProgress("/api/v1/fits", ask, giveUp.current.signal)) {
        setPart(progress.done / progress.total);
        if (progress.settings) changeSettings(step, progress.settings, true);
      }
    } catch (error) {
      if (!giveUp.current.signal.aborted) notice("look", error);
    } finally {
      setPart(null);
    }
  };
  return (
    <Flex align="center" gap="8px" height="30px">
      {part === null ? (
        <Button
          small
          type="button"
          title="Measure frames spread over the whole clip, and set this step by them, once"
          onClick={() => void busyWith(measure())}
        >
          Set from clip
        </Button>
      ) : (
        <>
          <Button small type="button" onClick={() => giveUp.current.abort()}>
            Stop
          </Button>
          <Box color="mute" fontSize="12px" role="status">
            Measuring the clip: {Math.round(100 * part)} %
          </Box>
        </>
      )}
    </Flex>
  );
}
