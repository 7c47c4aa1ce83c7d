import { Box, Flex } from "@chakra-ui/react";
import type { Step } from "../../api/client";
import { keyedNames } from "../../model/keyframes";
import { countWords } from "../../model/words";
import { setState, useBench } from "../../store/bench";
import { markBurst } from "../../store/burstMarking";
import { Button } from "../../ui/Button";
import { BurstStrip, BurstsByRule } from "../time/Bursts";
import { KeyStrip } from "../time/KeyStrip";
import { labelOf } from "../time/Lanes";

/** When a step shows: its bursts and keys, made here, drawn in the lanes under the filmstrip. */
export function WhenPage({ step }: { step: Step }) {
  const picked = useBench((s) => s.picked);
  const bursting = useBench((s) => s.bursting);
  const keyed = keyedNames(step);
  const bursts = step.bursts?.length ?? 0;
  return (
    <Box pl="14px">
      <Flex align="center" gap="8px" wrap="wrap">
        <BurstKey />
        <Button
          small
          tone={bursting ? "here" : "paper"}
          type="button"
          aria-pressed={bursting}
          title="Make bursts by a rule: at an interval, by chance, or on the sound"
          onClick={() => setState({ bursting: !bursting })}
        >
          By rule
        </Button>
        <Box color={bursts ? "ember" : "mute"}>
          {bursts ? countWords(bursts, "burst") : "always on"}
        </Box>
        <Box color={keyed.length ? "tide" : "mute"}>
          {keyed.length ? `keyed: ${keyed.map((n) => labelOf(step, n)).join(", ")}` : "no keys"}
        </Box>
      </Flex>
      {bursting ? <BurstsByRule /> : picked?.kind === "burst" ? <BurstStrip /> : <KeyStrip />}
    </Box>
  );
}

/** Pressed while the clip plays, it is a burst; tapped, a short one. */
function BurstKey() {
  const marking = useBench((s) => s.marking) !== null;
  return (
    <Button
      small
      tone={marking ? "here" : "paper"}
      type="button"
      aria-pressed={marking}
      title="Tap it while the clip plays, or hold it: the step is active then (U)"
      style={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        markBurst(true);
      }}
      onPointerUp={() => markBurst(false)}
      onPointerCancel={() => setState({ marking: null })}
      onClick={(event) => {
        if (event.detail > 0) return; // pressed by pointer: done
        markBurst(true);
        markBurst(false);
      }}
    >
      Tap a burst
    </Button>
  );
}
