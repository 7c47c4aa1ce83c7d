import { Box, chakra, Flex } from "@chakra-ui/react";
import { ChevronLeft, ChevronRight, Paintbrush } from "lucide-react";
import { useState } from "react";
import type { Reel } from "../../api/client";
import { type PlacedItem, placeItems, reelPicture } from "../../model/reel";
import { bench, useBench } from "../../store/bench";
import { goToPlace } from "../../store/places";
import { reelState, seekReel, useReel } from "../../store/reel";
import { giveLook, leaveShot, showOnBench } from "../../store/reelEdits";
import { Button } from "../../ui/Button";
import { draggedId, LOOK } from "../reel/dragging";
import { ImageInTurn } from "../reel/ImageInTurn";
import { TimeButton } from "./TimeButton";

const Cell = chakra("button");

/** Lines of the small pictures. */
const LINES = 60;

/** The reel's shots over the filmstrip, while one of them is worked on: a click opens another. */
export function ReelStrip() {
  const reel = useReel((s) => s.reel);
  const id = useReel((s) => s.onBench);
  const clip = useBench((s) => s.clip?.id);
  const look = useBench((s) => s.lookId);
  const lookName = useBench((s) => s.look?.name ?? "");
  const readOnly = useBench((s) => s.readOnly);
  const shots = placeItems(reel?.items ?? []).filter(
    ({ item }) => item.kind === "shot" && item.clip !== null,
  );
  const n = shots.findIndex(({ item }) => item.id === id);
  const here = shots[n];
  if (!reel || here?.item.kind !== "shot" || here.item.clip !== clip) return null;
  const open = (shot: PlacedItem | undefined) => shot && void showOnBench(shot.item.id);
  return (
    <Flex gap="12px" mb="4px" as="section" aria-label="Shots of the reel">
      <Flex width="220px" flex="none" gap="4px" align="center">
        <TimeButton
          label="The shot before"
          title="The shot before"
          disabled={n === 0}
          onClick={() => open(shots[n - 1])}
        >
          <ChevronLeft size={13} />
        </TimeButton>
        <TimeButton
          label="The next shot"
          title="The next shot"
          disabled={n === shots.length - 1}
          onClick={() => open(shots[n + 1])}
        >
          <ChevronRight size={13} />
        </TimeButton>
        <Box flex="1" fontSize="12px" truncate title={`Shot ${n + 1} of ${reel.name}`}>
          {n + 1} of {shots.length}
        </Box>
        {look !== null && look !== (here.item.look ?? null) && (
          <TimeButton
            label="Use look"
            title={`Give shot ${n + 1} the look ${lookName}; its name can be dragged on other shots`}
            disabled={readOnly}
            onClick={() => giveLook({ id: look, name: lookName }, new Set([here.item.id]))}
          >
            <Paintbrush size={13} />
          </TimeButton>
        )}
        <Button
          small
          type="button"
          px="6px"
          title={`Back to ${reel.name}, at this shot`}
          onClick={() => {
            seekReel(here.begins);
            goToPlace("reel");
          }}
        >
          Reel
        </Button>
        <Button small type="button" px="6px" title="Hide the reel's shots" onClick={leaveShot}>
          Hide
        </Button>
      </Flex>
      <Flex flex="1" minW="0" gap="2px" overflowX="auto">
        {shots.map((shot, number) => (
          <ShotButton
            key={shot.item.id}
            shot={shot}
            number={number + 1}
            here={shot === here}
            reel={reel}
          />
        ))}
      </Flex>
    </Flex>
  );
}

interface ShotButtonProps {
  shot: PlacedItem;
  number: number;
  here: boolean;
  reel: Reel;
}

/** A shot, as wide as it is long: its own picture, its number and its name. */
function ShotButton({ shot: { item, begins, ends }, number, here, reel }: ShotButtonProps) {
  const name = item.kind === "shot" ? item.name : "";
  const [under, setUnder] = useState(false);
  return (
    <Cell
      type="button"
      aria-pressed={here}
      title={name}
      display="flex"
      alignItems="center"
      gap="5px"
      height="28px"
      minW="64px"
      overflow="hidden"
      textAlign="left"
      borderRadius="3px"
      borderWidth="1px"
      borderColor={under ? "tide" : here ? "chosen" : "line"}
      bg={here ? "chosen" : "sheet"}
      color={here ? "chosenInk" : "ink"}
      style={{ flex: `${ends - begins} 0 64px` }}
      onDragOver={(event) => {
        if (![...event.dataTransfer.types].includes(LOOK)) return;
        event.preventDefault();
        setUnder(true);
      }}
      onDragLeave={() => setUnder(false)}
      onDrop={(event) => {
        setUnder(false);
        const { lookId, look } = bench();
        if (!draggedId(event, LOOK) || lookId === null || !look) return;
        event.preventDefault();
        event.stopPropagation();
        const { chosen } = reelState();
        const ids = chosen.has(item.id) ? chosen : new Set([item.id]);
        giveLook({ id: lookId, name: look.name }, ids);
      }}
      onClick={() => void showOnBench(item.id)}
    >
      <Box height="26px" width="46px" flex="none" bg="black">
        <ImageInTurn
          src={reelPicture({ kept: reel, plain: true, looks: "" }, begins, LINES)}
          alt=""
          width="100%"
          height="100%"
          objectFit="contain"
          draggable={false}
        />
      </Box>
      <Box fontSize="12px" truncate>
        {number} {name}
      </Box>
    </Cell>
  );
}
