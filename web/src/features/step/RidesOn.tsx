import { Box, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import type { Clip, Shape, Step, TrackPlaces } from "../../api/client";
import { KINDS, type Kind, seenFrame } from "../../model/tracks";
import { useBench } from "../../store/bench";
import { changeShape } from "../../store/masks";
import { notice } from "../../store/notices";
import { goTo } from "../../store/playRange";
import {
  follow,
  handsBut,
  isOwnTrack,
  smoothTrack,
  stopFollowing,
  usePlaces,
  useTracking,
} from "../../store/tracks";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { NumberControl } from "../../ui/Number";
import { ProgressLine } from "../../ui/ProgressLine";
import { TrackChoice } from "./TrackChoice";

/** What a shape rides on, and how what lies in it is followed. */
export function RidesOn({ step, shape }: { step: Step; shape: Shape }) {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  const track = usePlaces(String(shape.track ?? ""));
  const [chosen, setChosen] = useState<Kind | null>(null);
  const finding = useTracking((s) => s.finding);
  const own = isOwnTrack(track, shape);
  const kind = chosen ?? ((own && track?.kind) || "turn");
  const here = finding?.step === step.id && finding.shape === shape.id;
  const running = here && finding.running;
  const losses =
    here && finding.file === track?.file
      ? finding.losses
      : (track?.lost.map(([first, last]) => ({ first, last, why: "" })) ?? []);
  if (!clip) return null;
  const choose = (file: string) => changeShape(step, shape, [["track", file]]);
  const canFollow = shape.kind !== "wash";
  return (
    <>
      <TrackChoice value={String(shape.track ?? "")} onChoose={choose}>
        {canFollow && !running && (
          <Button
            small
            type="button"
            height="23px"
            px="7px"
            title="Follow what lies in this shape, from this frame both ways"
            onClick={() => void follow(step, shape, { kind })}
          >
            {own ? "Track anew" : "Track it"}
          </Button>
        )}
      </TrackChoice>
      {running && (
        <ProgressLine
          small
          says="Tracking"
          label={`Tracking ${finding.title}`}
          stop="What is found so far is kept"
          onStop={() => void stopFollowing()}
          {...finding}
        />
      )}
      {canFollow && !running && (
        <Choice
          label="What is in it"
          help="What the part that is followed may do"
          value={kind}
          choices={[...KINDS]}
          onChoose={(word) => setChosen(word as Kind)}
        >
          {track && own && track.kind !== kind && (
            <Button
              small
              type="button"
              height="23px"
              px="7px"
              title="Find the same track again, as what is in it moves"
              onClick={() =>
                void follow(step, shape, { kind, known: track, byHand: handsBut(track, -1) })
              }
            >
              Again
            </Button>
          )}
        </Choice>
      )}
      {track && own && !running && (
        <>
          <Box color="mute" fontSize="12px">
            {frame === seenFrame(clip, track.begin)
              ? "Here it was followed from: moving it here moves it everywhere."
              : "Where it is wrong, put it right on the picture: it is followed anew from there."}
          </Box>
          {losses.map((loss) => (
            <Loss key={loss.first} clip={clip} {...loss} />
          ))}
        </>
      )}
      {track && !running && <Smooth key={track.file} track={track} onChoose={choose} />}
      {track && (
        <chakra.a
          href={`/api/v1/tracks/${encodeURIComponent(track.file)}/file`}
          download
          fontSize="12px"
          color="tide"
          textDecoration="underline"
        >
          Save the track as a file
        </chakra.a>
      )}
    </>
  );
}

/** Over how many frames a track is smoothed: that is another track, found at once. */
function Smooth({ track, onChoose }: { track: TrackPlaces; onChoose: (file: string) => void }) {
  const [value, setValue] = useState(track.smooth);
  return (
    <NumberControl
      label="Smooth"
      help="Frames on either side over which the track is smoothed"
      value={value}
      initial={0}
      softMinimum={0}
      softMaximum={24}
      minimum={0}
      maximum={24}
      unit="fr"
      whole
      onMove={(smooth, done) => {
        setValue(smooth);
        if (!done || smooth === track.smooth) return;
        smoothTrack(track.file, smooth).then(
          (made) => onChoose(made.file),
          (error) => notice("look", error),
        );
      }}
    />
  );
}

/** Frames at which a part is lost, and the way there. */
function Loss({
  clip,
  first,
  last,
  why,
}: {
  clip: Clip;
  first: number;
  last: number;
  why: string;
}) {
  return (
    <Flex align="center" gap="6px" fontSize="12px" role="status">
      <Box flex="1" color="ember">
        Lost at {last > first ? `frames ${first} to ${last}` : `frame ${first}`}
        {why ? `: ${why}` : ""}.
      </Box>
      <Button
        small
        type="button"
        height="22px"
        title="Go there, and put it right on the picture"
        onClick={() => goTo(seenFrame(clip, first))}
      >
        Go there
      </Button>
    </Flex>
  );
}
