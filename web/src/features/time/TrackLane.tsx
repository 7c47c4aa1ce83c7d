import { Box } from "@chakra-ui/react";
import { findStep } from "../../model/lookTree";
import { sourceOf } from "../../model/masks";
import { runsOf, SURE, seenFrame } from "../../model/tracks";
import { useBench } from "../../store/bench";
import { chosenShape } from "../../store/masks";
import { goTo } from "../../store/playRange";
import { follow, framesOf, handsBut, isOwnTrack, usePlaces } from "../../store/tracks";
import { FrameDot } from "./FrameDot";

/** The track of what is set: of a shape on the page Where, else of the open step. */
export function useTrackShown() {
  const steps = useBench((s) => s.look?.steps) ?? [];
  const step = useBench((s) => (s.look ? findStep(s.look.steps, s.open) : undefined));
  const where = useBench((s) => s.question === "where");
  const set = useBench((s) => s.shape);
  const own = step && where ? chosenShape(step, set) : undefined;
  const shape = step && own ? sourceOf(steps, step, own).shape : undefined;
  const track = usePlaces(String((where ? shape?.track : step?.settings.track) ?? ""));
  return track && step ? { track, step, shape, own } : null;
}

/** Where the track that is set is sure, less sure, or lost; frames that were put right by hand. */
export function TrackLane({ height }: { height: string }) {
  const shown = useTrackShown();
  const clip = useBench((s) => s.clip);
  if (!shown || !clip) return null;
  const { track, step, shape, own } = shown;
  const part = (shot: number) => `${(100 * seenFrame(clip, shot)) / clip.frames}%`;
  const middle = (shot: number) => `${(100 * (seenFrame(clip, shot) + 0.5)) / clip.frames}%`;
  const takeOut = (frame: number) => {
    if (!shape || !own || !isOwnTrack(track, shape)) return;
    const { kind } = track;
    void follow(step, own, { kind, known: track, byHand: handsBut(track, frame) });
  };
  return (
    <Box position="relative" height={height} role="group" aria-label={`Track of ${track.title}`}>
      <Box position="absolute" top="5px" height="4px" left="0" right="0" bg="line" />
      {runsOf(framesOf(track)).map(({ from, to, sure }) => (
        <Box
          key={from}
          position="absolute"
          top="4px"
          height="6px"
          borderRadius="3px"
          bg={sure ? "tide" : undefined}
          borderWidth={sure ? undefined : "1px"}
          borderColor="tide"
          borderStyle="dashed"
          role="note"
          aria-label={`${sure ? "Sure" : "Less sure"}: frames ${from} to ${to}`}
          title={
            sure
              ? `Frames ${from} to ${to}`
              : `Frames ${from} to ${to}: less than ${100 * SURE} % of it agrees; look at them`
          }
          style={{ left: part(from), width: `calc(${part(to + 1)} - ${part(from)})` }}
        />
      ))}
      {[track.begin, ...track.by_hand].map((frame) => (
        <FrameDot
          key={frame}
          type="button"
          bg={frame === track.begin ? "ink" : "tide"}
          aria-label={
            frame === track.begin
              ? `Followed from frame ${frame}`
              : `Put right by hand at frame ${frame} (Delete takes it back)`
          }
          title={frame === track.begin ? "Followed from here" : "Put right by hand"}
          style={{ left: middle(frame) }}
          onClick={() => goTo(seenFrame(clip, frame))}
          onKeyDown={(event) => {
            if (event.key !== "Delete" && event.key !== "Backspace") return;
            event.preventDefault();
            event.stopPropagation();
            if (frame !== track.begin) takeOut(frame);
          }}
        />
      ))}
    </Box>
  );
}
