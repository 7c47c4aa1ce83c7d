import { Box } from "@chakra-ui/react";
import { type PointerEvent, useState } from "react";
import type { Reel, ReelSound } from "../../api/client";
import { lengthOf, type PlacedItem } from "../../model/reel";
import { inLanes } from "../../model/reelSounds";
import { frameUnder, headAt, type Strip } from "../../model/reelStrip";
import { timecode } from "../../model/timecode";
import { useBench } from "../../store/bench";
import { editSounds, useReel } from "../../store/reel";
import { takeSoundOut } from "../../store/reelSounds";
import { SoundWave } from "./SoundWave";

/** CSS pixels of a lane: what is taken hold of (WCAG 2.2, 2.5.8). */
const LANE = 24;

/** How tall the lanes of a reel's sounds are, in CSS pixels. */
export const lanesHeight = (sounds: ReelSound[]) => inLanes(sounds).count * LANE;

const secondOf = ({ rate }: Reel) => rate.numerator / rate.denominator;

/** What is heard under the shots, each sound as long as it is heard. */
export function SoundLanes({
  reel,
  all,
  strip,
  top,
}: {
  reel: Reel;
  all: PlacedItem[];
  strip: Strip;
  top: number;
}) {
  const { lanes } = inLanes(reel.sounds);
  return reel.sounds.map((sound) => (
    <Lane
      key={sound.id}
      reel={reel}
      sound={sound}
      all={all}
      strip={strip}
      top={top + LANE * (lanes.get(sound.id) ?? 0)}
    />
  ));
}

interface LaneProps {
  reel: Reel;
  sound: ReelSound;
  all: PlacedItem[];
  strip: Strip;
  top: number;
}

/** One sound: chosen by a click, moved by dragging or by the arrow keys. */
function Lane({ reel, sound, all, strip, top }: LaneProps) {
  const chosen = useReel((s) => s.sound === sound.id);
  const readOnly = useBench((s) => s.readOnly);
  const [from, setFrom] = useState<number | null>(null);
  const [by, setBy] = useState(0);
  const whole = lengthOf(reel.items);
  const place = (frame: number) => headAt(all, strip, frame);
  const at = Math.max(0, sound.at + by);
  const left = place(at);
  const width = Math.max(place(Math.min(at + sound.frames, whole)) - left, LANE);
  const missing = !sound.file && sound.clip == null;
  const framesMoved = (event: PointerEvent) =>
    from === null ? 0 : frameUnder(all, strip, place(sound.at) + event.clientX - from) - sound.at;
  const move = (frames: number) =>
    frames &&
    editSounds(`moving ${sound.name}`, (sounds) =>
      sounds.map((each) =>
        each.id === sound.id ? { ...each, at: Math.max(0, each.at + frames) } : each,
      ),
    );
  return (
    <Box
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`Sound ${sound.name}, ${sound.frames} frames from ${timecode(sound.at, secondOf(reel))}`}
      title={`${sound.name}\nClick to work on it; drag it, or move it with the arrow keys`}
      position="absolute"
      height={`${LANE - 2}px`}
      px="6px"
      bg={missing ? "line" : "tide"}
      color={missing ? "ink" : "sheet"}
      borderRadius="3px"
      fontSize="11px"
      lineHeight={`${LANE - 2}px`}
      truncate
      cursor={readOnly ? "pointer" : "grab"}
      outline={chosen ? "2px solid" : undefined}
      outlineColor="ember"
      outlineOffset="-2px"
      style={{ touchAction: "none", top: `${top}px`, left: `${left}px`, width: `${width}px` }}
      onClick={() => useReel.setState({ sound: sound.id })}
      onPointerDown={(event) => {
        if (readOnly) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom(event.clientX);
      }}
      onPointerMove={(event) => setBy(framesMoved(event))}
      onPointerUp={(event) => {
        move(framesMoved(event));
        setFrom(null);
        setBy(0);
      }}
      onKeyDown={(event) => {
        const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (event.key === "Enter") useReel.setState({ sound: sound.id });
        if (event.key === "Delete" && !readOnly) takeSoundOut(sound.id);
        if (way && !readOnly) move(way * (event.shiftKey ? 10 : 1));
        if (!way && event.key !== "Enter" && event.key !== "Delete") return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <SoundWave
        sound={sound}
        rate={secondOf(reel)}
        width={width}
        height={LANE - 2}
        place={(frames) => place(at + frames) - left}
      />
      <Box as="span" position="relative">
        {sound.name}
        {missing ? ", no media" : ""}
      </Box>
    </Box>
  );
}
