import { Box, Flex } from "@chakra-ui/react";
import { Pause, Play, Scissors, SkipBack, SkipForward } from "lucide-react";
import { useRef, useState } from "react";
import type { LookState, Reel } from "../../api/client";
import { cutFrom, insertItem, itemAt, lengthOf, placeItems } from "../../model/reel";
import { frameUnder, headAt, laidOut, placeUnder, RULER, TALL } from "../../model/reelStrip";
import { timecode } from "../../model/timecode";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { searchCuts } from "../../store/cutSearch";
import { useReelHead } from "../../store/playHead";
import { editReel, newItemId, reelState, seekReel, useReel } from "../../store/reel";
import { cutHere, putAt, putIn, putOn, showOnBench, takeOut } from "../../store/reelEdits";
import { pauseReel, toggleReelPlay } from "../../store/reelPlayer";
import { Button } from "../../ui/Button";
import { useExtent } from "../../ui/useExtent";
import { CLIP, draggedId, SHOT } from "./dragging";
import { KeptFrames } from "./KeptFrames";
import { NameAndLook } from "./NameAndLook";
import { ShotCell } from "./ShotCell";
import { ShotEnds } from "./ShotEnds";
import { lanesHeight, SoundLanes } from "./SoundLanes";
import { SoundTools } from "./SoundTools";

/** The reel as a strip of its shots: each as wide as it is long, with its own picture and look. */
export function ShotStrip({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const strip = useRef<HTMLDivElement>(null);
  const { width } = useExtent(strip);
  const clips = useClips().data ?? [];
  const slider = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState<number | null>(null);
  const kept = useReel((s) => s.kept);
  const plain = useReel((s) => s.plain);
  const all = placeItems(reel.items);
  const out = laidOut(all, width);
  const rate = reel.rate.numerator / reel.rate.denominator;
  const made = looks.map((look) => look.revision).join(".");
  const pictured = kept && { kept, plain, looks: made };
  const places = new Map(placeItems(kept?.items ?? []).map((each) => [each.item.id, each]));
  const under = lanesHeight(reel.sounds);
  useReelHead((frame) => {
    slider.current?.setAttribute("aria-valuenow", `${frame}`);
    if (head.current) head.current.style.left = `${headAt(all, out, frame)}px`;
  });
  const inStrip = ({ clientX }: { clientX: number }) => {
    const box = strip.current?.getBoundingClientRect();
    return clientX - (box?.left ?? 0) + (strip.current?.scrollLeft ?? 0);
  };
  return (
    <Box as="section" aria-label="Shots" bg="paper" px="12px" pt="6px" pb="4px" flex="none">
      <Tools reel={reel} looks={looks} />
      <Box
        ref={strip}
        position="relative"
        overflowX="auto"
        overflowY="hidden"
        height={`${RULER + TALL + 12 + under}px`}
        mt="6px"
        onDragOver={(event) => {
          const types = [...event.dataTransfer.types];
          if (!types.includes(CLIP) && !types.includes(SHOT)) return;
          event.preventDefault();
          setOver(placeUnder(out, inStrip(event)));
        }}
        onDragLeave={() => setOver(null)}
        onDrop={(event) => {
          const to = placeUnder(out, inStrip(event));
          const clip = clips.find(({ id }) => `${id}` === draggedId(event, CLIP));
          const shot = draggedId(event, SHOT);
          setOver(null);
          if (!clip && !shot) return;
          event.preventDefault();
          event.stopPropagation();
          if (clip) void putIn(clip, to);
          else if (shot) putAt(to, chosenWith(shot));
        }}
      >
        <Box
          ref={slider}
          role="slider"
          tabIndex={0}
          aria-label="Frame of the reel"
          aria-valuemin={0}
          aria-valuemax={lengthOf(reel.items) - 1}
          height={`${RULER}px`}
          width={`${out.whole}px`}
          position="relative"
          color="mute"
          fontSize="11px"
          lineHeight={`${RULER}px`}
          cursor="ew-resize"
          style={{ touchAction: "none" }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            pauseReel();
            seekReel(frameUnder(all, out, inStrip(event)));
          }}
          onPointerMove={(event) => {
            if (event.currentTarget.hasPointerCapture(event.pointerId))
              seekReel(frameUnder(all, out, inStrip(event)));
          }}
        >
          {all.map(({ item, begins }, n) => (
            <Box
              key={item.id}
              position="absolute"
              top="0"
              bottom="0"
              pl="4px"
              overflow="hidden"
              borderLeftWidth="1px"
              borderColor="line"
              style={{ left: `${out.cells[n]?.left}px`, width: `${out.cells[n]?.width}px` }}
            >
              {timecode(begins, rate)}
            </Box>
          ))}
        </Box>
        <Flex role="listbox" aria-label="Shots" aria-multiselectable width={`${out.whole}px`}>
          {all.map((each, n) => (
            <ShotCell
              key={each.item.id}
              placed={each}
              number={n + 1}
              width={out.cells[n]?.width ?? 0}
              looks={looks}
              pictured={pictured}
              kept={places.get(each.item.id)}
            />
          ))}
        </Flex>
        <KeptFrames all={all} strip={out} />
        <ShotEnds all={all} strip={out} />
        <SoundLanes reel={reel} all={all} strip={out} top={RULER + TALL + 2} />
        <Box
          ref={head}
          position="absolute"
          top="0"
          height={`${RULER + TALL + under}px`}
          width="2px"
          bg="ember"
          pointerEvents="none"
        />
        {over !== null && (
          <Box
            position="absolute"
            top={`${RULER}px`}
            height={`${TALL}px`}
            width="3px"
            bg="tide"
            pointerEvents="none"
            style={{ left: `${(out.cells[over]?.left ?? out.whole) - 1}px` }}
          />
        )}
      </Box>
      <SoundTools reel={reel} />
    </Box>
  );
}

/** The chosen shots, where the one that is dragged is among them; else that alone. */
function chosenWith(shot: string) {
  const { chosen } = useReel.getState();
  return chosen.has(shot) ? chosen : new Set([shot]);
}

/** What is done at the play head, and with the chosen shots. */
function Tools({ reel, looks }: { reel: Reel; looks: LookState[] }) {
  const playing = useReel((s) => s.playing);
  const plain = useReel((s) => s.plain);
  const readOnly = useBench((s) => s.readOnly);
  return (
    <Flex gap="6px" align="center" wrap="wrap">
      <Button small type="button" width="74px" aria-pressed={playing} onClick={toggleReelPlay}>
        {playing ? <Pause size={13} /> : <Play size={13} />} {playing ? "Pause" : "Play"}
      </Button>
      <CutButton reel={reel} way={-1} />
      <CutButton reel={reel} way={1} />
      <Button
        small
        type="button"
        aria-pressed={plain}
        tone={plain ? "here" : "paper"}
        title="The clips without their looks (hold B)"
        onClick={() => useReel.setState({ plain: !plain })}
      >
        As shot
      </Button>
      <Box width="8px" />
      <Button small type="button" disabled={readOnly} title="Cut here (C)" onClick={cutHere}>
        <Scissors size={13} /> Cut here
      </Button>
      <Button
        small
        type="button"
        disabled={readOnly}
        title="Look for cuts within the shot at the play head, to take it apart there"
        onClick={findCuts}
      >
        Find cuts
      </Button>
      <Button small type="button" disabled={readOnly} onClick={() => putOn(-1)}>
        Earlier
      </Button>
      <Button small type="button" disabled={readOnly} onClick={() => putOn(1)}>
        Later
      </Button>
      <Button small type="button" disabled={readOnly} title="Delete" onClick={takeOut}>
        Remove
      </Button>
      <Button small type="button" disabled={readOnly} onClick={addGap}>
        Add a gap
      </Button>
      <Box flex="1" />
      <NameAndLook reel={reel} looks={looks} />
      <Button small type="button" onClick={() => void showOnBench()}>
        Open on the Bench
      </Button>
    </Flex>
  );
}

/** To the next cut, or the one before. */
function CutButton({ reel, way }: { reel: Reel; way: 1 | -1 }) {
  const label = way > 0 ? "The next cut" : "The cut before";
  return (
    <Button
      small
      type="button"
      aria-label={label}
      title={`${label} (${way > 0 ? "↓" : "↑"})`}
      onClick={() => {
        pauseReel();
        seekReel(cutFrom(placeItems(reel.items), reelState().frame, way));
      }}
    >
      {way > 0 ? <SkipForward size={13} /> : <SkipBack size={13} />}
    </Button>
  );
}

/** Look for cuts in the shot at the play head. */
function findCuts() {
  const { reel, frame } = reelState();
  const item = reel && itemAt(placeItems(reel.items), frame)?.item;
  if (item?.kind === "shot") void searchCuts(item);
}

/** A second of nothing after the shot at the play head. */
function addGap() {
  const { reel, frame } = reelState();
  if (!reel) return;
  const item = itemAt(placeItems(reel.items), frame)?.item;
  const frames = Math.max(1, Math.round(reel.rate.numerator / reel.rate.denominator));
  const gap = { kind: "gap" as const, id: newItemId(), frames, item: null };
  editReel("adding a gap", (items) => insertItem(items, gap, item ? items.indexOf(item) + 1 : 0));
}
