import { Box, chakra, Flex } from "@chakra-ui/react";
import { ChevronLeft, ChevronRight } from "lucide-react";
import type { Reel } from "../../api/client";
import { type PlacedItem, placed, reelPicture } from "../../model/reel";
import { useBench } from "../../store/bench";
import { goToPlace } from "../../store/places";
import { seekReel, useReel } from "../../store/reel";
import { leaveShot, showOnBench } from "../../store/reelEdits";
import { Button } from "../../ui/Button";
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
  const shots = placed(reel?.items ?? []).filter(
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
          onClick={() => open(shots[n - 1])}
        >
          <ChevronLeft size={13} />
        </TimeButton>
        <TimeButton label="The next shot" title="The next shot" onClick={() => open(shots[n + 1])}>
          <ChevronRight size={13} />
        </TimeButton>
        <Box flex="1" fontSize="12px" truncate title={reel.name}>
          Shot {n + 1} of {shots.length}
        </Box>
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
      borderColor={here ? "chosen" : "line"}
      bg={here ? "chosen" : "sheet"}
      color={here ? "chosenInk" : "ink"}
      style={{ flex: `${ends - begins} 0 64px` }}
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
