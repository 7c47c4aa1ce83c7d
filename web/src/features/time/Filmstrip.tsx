import { Box, chakra } from "@chakra-ui/react";
import { type PointerEvent, useMemo, useRef } from "react";
import type { Clip } from "../../api/client";
import { runs } from "../../model/runs";
import { timecode } from "../../model/timecode";
import { setState, useBench } from "../../store/bench";
import { pause } from "../../store/player";
import { usePlayHead } from "../../store/playHead";
import { goTo, playOver } from "../../store/playRange";
import { useTimeView } from "../../store/timeView";

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
  return `/api/v1/clips/${clip.id}/filmstrip?${query}`;
};

/** The clip in small pictures: looked through, and what of it is kept and played. */
export function Filmstrip() {
  const clip = useBench((s) => s.clip);
  const strip = useRef<HTMLDivElement>(null);
  const range = useBench((s) => s.range);
  const zoom = useTimeView((s) => s.zoom);
  const begun = useRef<number | null>(null);
  usePlayHead((frame) => {
    strip.current?.setAttribute("aria-valuenow", `${frame}`);
    if (clip) strip.current?.setAttribute("aria-valuetext", timecode(frame, clip.rate));
  });
  if (!clip) return null;
  const frameUnder = (event: PointerEvent) => {
    const rect = strip.current?.getBoundingClientRect();
    return rect ? Math.floor(((event.clientX - rect.left) / rect.width) * clip.frames) : 0;
  };
  const seekTo = (event: PointerEvent) => {
    const frame = frameUnder(event);
    if (begun.current === null) goTo(frame);
    else playOver(Math.min(begun.current, frame), Math.max(begun.current, frame));
  };
  return (
    <Box
      ref={strip}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={0}
      aria-valuemax={clip.frames - 1}
      position="relative"
      height="50px"
      cursor="ew-resize"
      style={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        pause();
        begun.current = event.shiftKey ? frameUnder(event) : null;
        seekTo(event);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) {
          if (begun.current === null) setState({ moving: true });
          seekTo(event);
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
        <Kept frames={clip.frames} />
      </Box>
    </Box>
  );
}

/** Bars under the frames that are kept. */
function Kept({ frames }: { frames: number }) {
  const played = useBench((s) => s.played);
  const kept = useMemo(() => runs(played), [played]);
  return kept.map(([from, end]) => (
    <Box
      key={from}
      data-kept
      position="absolute"
      top="0"
      bottom="0"
      bg="tide"
      style={{ left: `${(from / frames) * 100}%`, width: `${((end - from) / frames) * 100}%` }}
    />
  ));
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
