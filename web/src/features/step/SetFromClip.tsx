import { Box, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { busyWith } from "../../api/busy";
import type { Step } from "../../api/client";
import { asked } from "../../api/lines";
import { Key } from "../../ui/Button";
import { bench, notice } from "../../store/bench";
import { inputOf } from "../../model/stepInput";
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
      const after = inputOf(step.id);
      const ask = { clip: clip.id, look, after, treatment: step.treatment };
      for await (const told of asked("/api/measure", ask, giveUp.current.signal)) {
        setPart(told.done / told.total);
        if (told.settings) changeSettings(step, told.settings, true);
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
        <Key
          small
          type="button"
          title="Measure frames spread over the whole clip, and set this step by them, once"
          onClick={() => void busyWith(measure())}
        >
          Set from clip
        </Key>
      ) : (
        <>
          <Key small type="button" onClick={() => giveUp.current.abort()}>
            Stop
          </Key>
          <Box color="mute" fontSize="12px" role="status">
            Measuring the clip: {Math.round(100 * part)} %
          </Box>
        </>
      )}
    </Flex>
  );
}
