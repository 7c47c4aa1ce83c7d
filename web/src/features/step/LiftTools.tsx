import { Box, Flex } from "@chakra-ui/react";
import { STROKE_KINDS, sayWhat } from "../../model/strokes";
import { useBench } from "../../store/bench";
import { clearFrame, findMatte, leaveLifting, takeBack, useLifting } from "../../store/lifting";
import { Button } from "../../ui/Button";
import { ChoiceButtons } from "../../ui/ChoiceButtons";
import { NumberControl } from "../../ui/Number";
import { LiftProgress } from "./LiftProgress";

/** What strokes are drawn with, and the way from them to the matte of the whole clip. */
export function LiftTools() {
  const { strokes, kind, width, known, finding, of } = useLifting();
  const frame = useBench((s) => s.frame);
  const here = strokes.some((stroke) => stroke.frame === frame);
  const own = finding?.step === of?.step && finding?.shape === of?.shape ? finding : null;
  const running = own?.running ?? false;
  const says = () => {
    if (!strokes.length) return "Draw a loose line around the figure, in any frame that shows it.";
    if (own?.stopped) return "Stopped; found again, it goes on from there.";
    if (!known) return "In colour is what is lifted out: draw where that is wrong.";
    return "Found in all frames. Draw where it is wrong, and find it again.";
  };
  return (
    <Flex direction="column" gap="5px" role="group" aria-label="Lift out a figure">
      <Flex justify="space-between">
        <Flex gap="3px" role="group" aria-label="Strokes">
          <ChoiceButtons
            choices={STROKE_KINDS}
            chosen={kind}
            height="24px"
            onChoose={(value) => useLifting.setState({ kind: value })}
          />
        </Flex>
        <Button small type="button" height="24px" title="To the look (Esc)" onClick={leaveLifting}>
          Done
        </Button>
      </Flex>
      {kind !== "around" && (
        <NumberControl
          label="Width"
          help="How wide strokes are drawn"
          value={width}
          initial={24}
          softMinimum={4}
          softMaximum={120}
          minimum={2}
          maximum={400}
          unit="px@1080"
          whole
          onMove={(value) => useLifting.setState({ width: value })}
        />
      )}
      <Box color="mute" fontSize="12px" role="status">
        {says()}
      </Box>
      {of && <LiftProgress step={of.step} shape={of.shape} />}
      <Flex gap="4px" wrap="wrap">
        {!running && (
          <Button
            small
            type="button"
            height="24px"
            tone="here"
            disabled={!sayWhat(strokes)}
            title="Its matte in every frame, found in the background (Enter)"
            onClick={() => void findMatte()}
          >
            {known ? "Find it again" : "Find it in all frames"}
          </Button>
        )}
        <Button
          small
          type="button"
          height="24px"
          disabled={!here}
          title="Take back the last stroke of this frame (Ctrl Z)"
          onClick={takeBack}
        >
          Take back
        </Button>
        <Button
          small
          type="button"
          height="24px"
          disabled={!here}
          title="Remove all strokes of this frame"
          onClick={clearFrame}
        >
          Clear frame
        </Button>
      </Flex>
    </Flex>
  );
}
