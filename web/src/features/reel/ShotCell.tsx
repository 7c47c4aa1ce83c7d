import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";
import type { LookState } from "../../api/client";
import { type Pictured, type PlacedItem, reelPicture } from "../../model/reel";
import { TALL } from "../../model/reelStrip";
import { useBench } from "../../store/bench";
import { reelState, seekReel, useReel } from "../../store/reel";
import { giveLook, showOnBench } from "../../store/reelEdits";
import { pauseReel } from "../../store/reelPlayer";
import { beginDrag, draggedId, LOOK, SHOT } from "./dragging";
import { ImageInTurn } from "./ImageInTurn";

/** Lines of a cell's picture. */
const LINES = 90;

/** How wide a picture of those lines is in a cell, about. */
const WIDE = 92;

/** The frame at a part of a shot. */
const frameAt = ({ begins, ends }: PlacedItem, part: number) =>
  Math.floor(begins + part * (ends - begins));

interface Props {
  placed: PlacedItem;
  number: number;
  width: number;
  looks: LookState[];
  pictured: Pictured | null;
  /** Where it stands in the reel that pictures are made of. */
  kept?: PlacedItem;
}

/** One shot of the strip: chosen by a click, moved by dragging, given a look by dropping it. */
export function ShotCell({ placed, number, width, looks, pictured, kept }: Props) {
  const { item, begins, ends } = placed;
  const chosen = useReel((s) => s.chosen.has(item.id));
  const readOnly = useBench((s) => s.readOnly);
  const [under, setUnder] = useState(false);
  const shot = item.kind === "shot" ? item : null;
  const look = shot && looks.find(({ id }) => id === shot.look);
  const name = shot ? shot.name : "gap";
  const said = look ? `${look.name}${shot?.fitting ? ", fitted" : ""}` : shot ? "as shot" : "";
  const unheard = shot && !shot.heard ? ", not heard" : "";
  const count = Math.max(1, Math.floor(width / WIDE));
  const choose = (more: boolean) => {
    pauseReel();
    const now = new Set(more ? reelState().chosen : []);
    if (!now.delete(item.id)) now.add(item.id);
    useReel.setState({ chosen: now });
    if (!more) seekReel(begins);
  };
  return (
    <Box
      role="option"
      tabIndex={0}
      aria-selected={chosen}
      aria-label={`Shot ${number}: ${name} ${said}${unheard}, ${ends - begins} frames`}
      title={`${name} · ${ends - begins} frames · ${said}${unheard}\nClick to choose, Ctrl-click for more, double-click to open it on the Bench`}
      height={`${TALL}px`}
      position="relative"
      width={`${width}px`}
      flex="none"
      overflow="hidden"
      bg={shot ? "black" : "line"}
      outline={under ? "3px solid" : chosen ? "2px solid" : undefined}
      outlineColor={under ? "tide" : "ember"}
      outlineOffset="-2px"
      borderRightWidth="1px"
      borderColor="paper"
      cursor="pointer"
      draggable={!readOnly}
      onDragStart={(event) => beginDrag(event, SHOT, item.id)}
      onDragOver={(event) => {
        if (!shot || ![...event.dataTransfer.types].includes(LOOK)) return;
        event.preventDefault();
        setUnder(true);
      }}
      onDragLeave={() => setUnder(false)}
      onDrop={(event) => {
        setUnder(false);
        const dropped = looks.find(({ id }) => `${id}` === draggedId(event, LOOK));
        if (!dropped) return;
        event.preventDefault();
        event.stopPropagation();
        const { chosen: all } = reelState();
        giveLook(dropped, all.has(item.id) ? all : new Set([item.id]));
      }}
      onClick={(event) => choose(event.ctrlKey || event.metaKey || event.shiftKey)}
      onDoubleClick={() => void showOnBench()}
      onKeyDown={(event) => {
        if (event.key !== "Enter") return;
        event.preventDefault();
        choose(event.ctrlKey || event.shiftKey);
      }}
    >
      {shot && shot.clip !== null && pictured && kept && (
        <Flex>
          {Array.from({ length: count }, (_, n) => (
            <ImageInTurn
              // biome-ignore lint/suspicious/noArrayIndexKey: a picture is its place
              key={n}
              src={reelPicture(pictured, frameAt(kept, (n + 0.5) / count), LINES)}
              alt=""
              width={`${width / count}px`}
              height="52px"
              objectFit="cover"
              draggable={false}
            />
          ))}
        </Flex>
      )}
      {shot?.clip === null && (
        <Box color="#f4f4f4" fontSize="11px" px="5px" pt="14px" truncate>
          no media
        </Box>
      )}
      <Box
        position="absolute"
        bottom="0"
        left="0"
        right="0"
        height="16px"
        px="4px"
        bg="paper"
        fontSize="11px"
        lineHeight="16px"
        truncate
      >
        {name}{" "}
        <Box as="span" color={look ? "tide" : "mute"}>
          {said}
          {unheard}
        </Box>
      </Box>
    </Box>
  );
}
