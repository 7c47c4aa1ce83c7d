import { Box, chakra, Flex } from "@chakra-ui/react";
import { Pause, Play, SkipBack, SkipForward, Volume2, VolumeX } from "lucide-react";
import { type PointerEvent, type ReactNode, useEffect, useMemo, useRef } from "react";
import type { Clip } from "../../api/client";
import { timecode } from "../../model/timecode";
import { bench, setState, useBench } from "../../store/bench";
import { pause, play, togglePlay } from "../../store/player";
import { goTo, playOver } from "../../store/playRange";
import { shiftTime, showAllTime, useTimeView, zoomTime } from "../../store/timeView";
import { Button } from "../../ui/Button";
import { LaneNames, Lanes } from "./Lanes";

const Image = chakra("img");
const STRIP = 16;
const MOST_PICTURES = 64;
/** How tall the filmstrip is, in CSS pixels. */
const TALL = 41;

/** The filmstrip's address; another once the clip is read otherwise, since the old one is kept. */
const filmstrip = (clip: Clip, zoom: number) => {
  const said = Object.entries(clip.reading).filter(([, value]) => value);
  const count = zoom > 1 ? Math.min(MOST_PICTURES, clip.frames) : STRIP;
  const query = new URLSearchParams([["count", `${count}`], ...(said as [string, string][])]);
  return `/api/clips/${clip.id}/filmstrip?${query}`;
};

/** Time: play, the filmstrip with its play head, and what of it is kept for smooth play. */
export function TimeRow() {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  const playing = useBench((s) => s.playing);
  const speed = useBench((s) => s.speed);
  const dropped = useBench((s) => s.dropped);
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
            <IconKey label="One frame back" title="One frame back (←)" onClick={() => step(-1)}>
              <SkipBack size={13} />
            </IconKey>
            <IconKey label="One frame on" title="One frame on (→)" onClick={() => step(1)}>
              <SkipForward size={13} />
            </IconKey>
            {clip && (
              <Box flex="1" fontSize="15px" textAlign="right" data-timecode>
                {timecode(frame, clip.rate)}
              </Box>
            )}
          </Flex>
          <Flex gap="4px" align="center" height="24px">
            <IconKey
              label="Half speed"
              title="Play at half speed, the sound too"
              on={slow}
              onClick={() => playAgain({ slow: !slow })}
            >
              ½
            </IconKey>
            {clip?.audio.length ? (
              <IconKey
                label="Without sound"
                title={quiet ? "Play with sound" : "Play without sound"}
                on={quiet}
                onClick={() => setState({ quiet: !quiet })}
              >
                {quiet ? <VolumeX size={13} /> : <Volume2 size={13} />}
              </IconKey>
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
                  ? `${speed.toFixed(1)} fps${dropped ? ` · ${dropped} left out` : ""}`
                  : `${frame} of ${clip.frames}`}
              </Box>
            )}
          </Flex>
          <LaneNames />
        </Box>
        {clip && (
          <TimeWindow>
            <Strip />
            <Lanes />
            <PlayHead />
          </TimeWindow>
        )}
      </Flex>
    </Box>
  );
}

/** How much of what is shown a turn of the wheel moves along. */
const ALONG = 0.15;

/** What stands along time, as far as it is in view: enlarged about the play head by the wheel. */
function TimeWindow({ children }: { children: ReactNode }) {
  const room = useRef<HTMLDivElement>(null);
  const { zoom, from } = useTimeView();
  useEffect(() => {
    const node = room.current;
    const wheel = (event: WheelEvent) => {
      event.preventDefault(); // the page itself never scrolls
      const along = event.shiftKey ? event.deltaY : event.deltaX;
      if (along) shiftTime(along < 0 ? -ALONG : ALONG);
      else if (event.deltaY) zoomTime(event.deltaY < 0 ? 1.5 : 1 / 1.5);
    };
    node?.addEventListener("wheel", wheel, { passive: false });
    return () => node?.removeEventListener("wheel", wheel);
  }, []);
  return (
    <Box flex="1" minW="0" position="relative" ref={room} css={{ overflowX: "clip" }}>
      <Box
        position="relative"
        data-time-zoom={zoom.toFixed(2)}
        style={{ width: `${100 * zoom}%`, left: `${-100 * zoom * from}%` }}
      >
        {children}
      </Box>
      <TimeZoom />
    </Box>
  );
}

/** Buttons that enlarge time about the play head. */
function TimeZoom() {
  const zoom = useTimeView((s) => s.zoom);
  return (
    <Flex
      role="group"
      aria-label="Zoom of time"
      position="absolute"
      top="8px"
      right="4px"
      gap="2px"
      opacity={zoom > 1 ? 1 : 0.35}
      _hover={{ opacity: 1 }}
      _focusWithin={{ opacity: 1 }}
    >
      {zoom > 1 && (
        <Button
          small
          type="button"
          height="24px"
          px="6px"
          title="Show the whole clip"
          onClick={showAllTime}
        >
          All
        </Button>
      )}
      <IconKey
        label="Less time enlarged"
        title="Show more of the clip (wheel)"
        onClick={() => zoomTime(0.5)}
      >
        −
      </IconKey>
      <IconKey
        label="Time enlarged"
        title="Enlarge time about the play head (wheel)"
        onClick={() => zoomTime(2)}
      >
        +
      </IconKey>
    </Flex>
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

interface IconKeyProps {
  label: string;
  title: string;
  on?: boolean;
  onClick: () => void;
  children: ReactNode;
}

function IconKey({ label, title, on, onClick, children }: IconKeyProps) {
  const clip = useBench((s) => s.clip);
  return (
    <Button
      type="button"
      width="24px"
      height="24px"
      px="0"
      tone={on ? "here" : "paper"}
      disabled={!clip}
      aria-label={label}
      aria-pressed={on}
      title={title}
      onClick={onClick}
    >
      {children}
    </Button>
  );
}

export function step(by: number) {
  pause();
  goTo(bench().frame + by);
}

function Strip() {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  const played = useBench((s) => s.played);
  const strip = useRef<HTMLDivElement>(null);
  const kept = useMemo(() => runs(played), [played]);
  const range = useBench((s) => s.range);
  const zoom = useTimeView((s) => s.zoom);
  const begun = useRef<number | null>(null);
  if (!clip) return null;
  const under = (event: PointerEvent) => {
    const rect = strip.current?.getBoundingClientRect();
    return rect ? Math.floor(((event.clientX - rect.left) / rect.width) * clip.frames) : 0;
  };
  const to = (event: PointerEvent) => {
    const frame = under(event);
    if (begun.current === null) goTo(frame);
    else playOver(Math.min(begun.current, frame), Math.max(begun.current, frame));
  };
  return (
    <Box
      ref={strip}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuenow={frame}
      aria-valuemin={0}
      aria-valuemax={clip.frames - 1}
      aria-valuetext={timecode(frame, clip.rate)}
      position="relative"
      height="50px"
      cursor="ew-resize"
      style={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        pause();
        begun.current = event.shiftKey ? under(event) : null;
        to(event);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) {
          if (begun.current === null) setState({ moving: true });
          to(event);
        }
      }}
      onPointerUp={() => setState({ moving: false })}
      title="Drag to look through; Shift-drag chooses what is played round and round"
    >
      {zoom > 1 ? (
        <Pictures clip={clip} zoom={zoom} />
      ) : (
        <Image
          key={filmstrip(clip, zoom)}
          src={filmstrip(clip, zoom)}
          alt=""
          position="absolute"
          top="0"
          width="100%"
          height={`${TALL}px`}
          objectFit="fill"
          borderRadius="3px"
          draggable={false}
        />
      )}
      {range && (
        <Box
          position="absolute"
          top="0"
          height="41px"
          borderWidth="2px"
          borderColor="sheet"
          outline="2px solid"
          outlineColor="ink"
          borderRadius="3px"
          aria-label={`Played: frames ${range[0]} to ${range[1]}`}
          role="note"
          style={{
            left: `${(range[0] / clip.frames) * 100}%`,
            width: `${((range[1] + 1 - range[0]) / clip.frames) * 100}%`,
          }}
        ></Box>
      )}
      <Box
        position="absolute"
        bottom="1px"
        left="0"
        right="0"
        height="5px"
        bg="line"
        borderRadius="3px"
        overflow="hidden"
        title="What is kept for smooth play"
      >
        {kept.map(([from, end]) => (
          <Box
            key={from}
            position="absolute"
            top="0"
            bottom="0"
            bg="tide"
            style={{
              left: `${(from / clip.frames) * 100}%`,
              width: `${((end - from) / clip.frames) * 100}%`,
            }}
          />
        ))}
      </Box>
    </Box>
  );
}

/** The filmstrip of enlarged time: pictures of their own shape, each where its part begins. */
function Pictures({ clip, zoom }: { clip: Clip; zoom: number }) {
  const count = Math.min(MOST_PICTURES, clip.frames);
  const wide = (TALL * clip.width) / clip.height;
  const source = filmstrip(clip, zoom);
  return (
    <Box position="absolute" top="0" left="0" right="0" height={`${TALL}px`} bg="line">
      {Array.from({ length: count }, (_, place) => (
        <Box
          // biome-ignore lint/suspicious/noArrayIndexKey: a picture is its place
          key={place}
          position="absolute"
          top="0"
          bottom="0"
          style={{
            left: `${(100 * place) / count}%`,
            width: `min(${wide}px, ${100 / count}%)`,
            backgroundImage: `url("${source}")`,
            backgroundSize: `${count * wide}px ${TALL}px`,
            backgroundPosition: `${-place * wide}px 0`,
          }}
        />
      ))}
    </Box>
  );
}

/** Ranges of neighbouring numbers: first, and one past the last. */
function runs(numbers: Set<number>): [number, number][] {
  const found: [number, number][] = [];
  for (const n of [...numbers].sort((a, b) => a - b)) {
    const last = found.at(-1);
    if (last && last[1] === n) last[1] = n + 1;
    else found.push([n, n + 1]);
  }
  return found;
}
