import { Box, Flex } from "@chakra-ui/react";
import { Pause, Play, SkipBack, SkipForward, Volume2, VolumeX } from "lucide-react";
import { timecode } from "../../model/timecode";
import { bench, setState, useBench } from "../../store/bench";
import { pause, play, togglePlay } from "../../store/player";
import { goTo } from "../../store/playRange";
import { Button } from "../../ui/Button";
import { Filmstrip } from "./Filmstrip";
import { LaneNames, Lanes } from "./Lanes";
import { TimeButton } from "./TimeButton";
import { TimeWindow } from "./TimeWindow";

/** Time: play, the filmstrip with its play head, and what of it is kept for smooth play. */
export function TimeRow() {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  const playing = useBench((s) => s.playing);
  const speed = useBench((s) => s.speed);
  const dropped = useBench((s) => s.dropped);
  const smaller = useBench((s) => s.smaller);
  const slow = useBench((s) => s.slow);
  const quiet = useBench((s) => s.quiet);
  const range = useBench((s) => s.range);
  return (
    <Box
      as="section"
      aria-label="Time"
      flex="none"
      bg="paper"
      borderTopWidth="1px"
      borderColor="line"
      px="10px"
      py="3px"
    >
      <Flex gap="12px">
        <Box width="220px" flex="none">
          <Flex gap="4px" align="center" height="26px">
            <Button
              small
              type="button"
              disabled={!clip}
              aria-pressed={playing}
              title="Play (Space)"
              onClick={togglePlay}
              width="70px"
              px="4px"
            >
              {playing ? <Pause size={13} /> : <Play size={13} />} {playing ? "Pause" : "Play"}
            </Button>
            <TimeButton label="One frame back" title="One frame back (←)" onClick={() => step(-1)}>
              <SkipBack size={13} />
            </TimeButton>
            <TimeButton label="One frame on" title="One frame on (→)" onClick={() => step(1)}>
              <SkipForward size={13} />
            </TimeButton>
            {clip && (
              <Box flex="1" fontSize="15px" textAlign="right" data-timecode>
                {timecode(frame, clip.rate)}
              </Box>
            )}
          </Flex>
          <Flex gap="4px" align="center" height="24px">
            <TimeButton
              label="Half speed"
              title="Play at half speed, the sound too"
              on={slow}
              onClick={() => playAgain({ slow: !slow })}
            >
              ½
            </TimeButton>
            {clip?.audio.length ? (
              <TimeButton
                label="Without sound"
                title={quiet ? "Play with sound" : "Play without sound"}
                on={quiet}
                onClick={() => setState({ quiet: !quiet })}
              >
                {quiet ? <VolumeX size={13} /> : <Volume2 size={13} />}
              </TimeButton>
            ) : null}
            {range && (
              <Button
                small
                type="button"
                height="24px"
                px="6px"
                title="Play the whole clip again"
                onClick={() => setState({ range: null })}
              >
                Whole clip
              </Button>
            )}
            {clip && (
              <Box flex="1" fontSize="12px" color="mute" textAlign="right" data-speed>
                {playing && speed
                  ? [
                      `${speed.toFixed(1)} fps`,
                      smaller && "smaller",
                      dropped && `${dropped} left out`,
                    ]
                      .filter(Boolean)
                      .join(" · ")
                  : `${frame} of ${clip.frames}`}
              </Box>
            )}
          </Flex>
          <LaneNames />
        </Box>
        {clip && (
          <TimeWindow>
            <Filmstrip />
            <Lanes />
            <PlayHead />
          </TimeWindow>
        )}
      </Flex>
    </Box>
  );
}

/** Where the frame that is seen stands, through the filmstrip and all lanes. */
function PlayHead() {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  if (!clip) return null;
  return (
    <Box
      position="absolute"
      top="-4px"
      bottom="-3px"
      width="2px"
      ml="-1px"
      bg="ember"
      pointerEvents="none"
      style={{ left: `${((frame + 0.5) / clip.frames) * 100}%` }}
    />
  );
}

/** Change how it plays, also while it does. */
function playAgain(how: { slow: boolean }) {
  const { playing } = bench();
  pause();
  setState(how);
  if (playing) play();
}

export function step(by: number) {
  pause();
  goTo(bench().frame + by);
}
