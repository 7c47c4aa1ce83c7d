import { Box, Flex } from "@chakra-ui/react";
import { Pause, Play, SkipBack, SkipForward, Volume2, VolumeX } from "lucide-react";
import { useRef } from "react";
import type { Clip } from "../../api/client";
import { timecode } from "../../model/timecode";
import { bench, setState, useBench } from "../../store/bench";
import { pause, play, togglePlay } from "../../store/player";
import { usePlayHead } from "../../store/playHead";
import { goTo } from "../../store/playRange";
import { Button } from "../../ui/Button";
import { Filmstrip } from "./Filmstrip";
import { LaneNames, Lanes } from "./Lanes";
import { ReelStrip } from "./ReelStrip";
import { TimeButton } from "./TimeButton";
import { TimeWindow } from "./TimeWindow";

/** Time: play, the filmstrip with its play head, and what of it is kept for smooth play. */
export function TimeRow() {
  const clip = useBench((s) => s.clip);
  const playing = useBench((s) => s.playing);
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
      <ReelStrip />
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
            {clip && <Timecode clip={clip} />}
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
            {clip && <FrameOrSpeed clip={clip} />}
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

function Timecode({ clip }: { clip: Clip }) {
  const said = useRef<HTMLDivElement>(null);
  usePlayHead((frame) => say(said.current, timecode(frame, clip.rate)));
  return <Box ref={said} flex="1" fontSize="15px" textAlign="right" data-timecode />;
}

/** The frame's number; in play, how fast it goes, and what is left out. */
function FrameOrSpeed({ clip }: { clip: Clip }) {
  const said = useRef<HTMLDivElement>(null);
  const playing = useBench((s) => s.playing);
  usePlayHead((frame) => {
    const { speed, smaller, dropped } = bench();
    const rate = [
      `${speed?.toFixed(1)} fps`,
      smaller && "smaller",
      dropped && `${dropped} left out`,
    ];
    const words =
      playing && speed ? rate.filter(Boolean).join(" · ") : `${frame} of ${clip.frames}`;
    say(said.current, words);
  });
  return <Box ref={said} flex="1" fontSize="12px" color="mute" textAlign="right" data-speed />;
}

function say(node: HTMLElement | null, words: string) {
  if (node) node.textContent = words;
}

/** Where the frame that is seen stands, through the filmstrip and all lanes. */
function PlayHead() {
  const clip = useBench((s) => s.clip);
  const head = useRef<HTMLDivElement>(null);
  usePlayHead((frame) => {
    if (clip && head.current) head.current.style.left = `${((frame + 0.5) / clip.frames) * 100}%`;
  });
  if (!clip) return null;
  return (
    <Box
      ref={head}
      position="absolute"
      top="-4px"
      bottom="-3px"
      width="2px"
      ml="-1px"
      bg="ember"
      pointerEvents="none"
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
