import { Box, chakra, Flex } from "@chakra-ui/react";
import { Plus } from "lucide-react";
import type { Clip, LookState } from "../../api/client";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { useReel } from "../../store/reel";
import { giveLook, putIn } from "../../store/reelEdits";
import { Button } from "../../ui/Button";
import { beginDrag, CLIP, LOOK } from "./dragging";

const Image = chakra("img");

/** The project's clips and looks, to be dragged into the reel, or put in by a press. */
export function Shelf({ looks }: { looks: LookState[] }) {
  const clips = useClips().data ?? [];
  const some = useReel((s) => Boolean(s.reel?.items.length));
  return (
    <Flex
      as="section"
      aria-label="Clips and looks"
      bg="desk"
      borderTopWidth="1px"
      borderColor="line"
      px="12px"
      py="6px"
      gap="16px"
      flex="none"
      height="92px"
    >
      <Flex gap="8px" overflowX="auto" flex="3" minW="0" as="ul" listStyleType="none">
        {clips.length === 0 && <Box>Drop clips anywhere on the page.</Box>}
        {clips.map((clip) => (
          <ClipOnShelf key={clip.id} clip={clip} />
        ))}
      </Flex>
      <Flex
        as="ul"
        listStyleType="none"
        gap="5px"
        wrap="wrap"
        align="flex-start"
        alignContent="flex-start"
        flex="2"
        minW="0"
        overflowY="auto"
      >
        {looks.map((look) => (
          <LookOnShelf key={look.id} look={look} idle={!some} />
        ))}
      </Flex>
    </Flex>
  );
}

function ClipOnShelf({ clip }: { clip: Clip }) {
  const readOnly = useBench((s) => s.readOnly);
  return (
    <Box
      as="li"
      flex="none"
      width="104px"
      draggable={!readOnly}
      cursor="grab"
      title={`Drag ${clip.name} into the reel`}
      onDragStart={(event) => beginDrag(event, CLIP, clip.id)}
    >
      <Box position="relative">
        <Image
          src={`/api/v1/clips/${clip.id}/filmstrip?count=1`}
          alt=""
          width="104px"
          height="56px"
          objectFit="cover"
          borderRadius="3px"
          draggable={false}
        />
        <Button
          small
          type="button"
          aria-label={`Put in ${clip.name}`}
          title={`Put ${clip.name} in, after the shot at the play head`}
          disabled={readOnly}
          position="absolute"
          right="3px"
          bottom="3px"
          height="22px"
          width="22px"
          px="0"
          onClick={() => void putIn(clip)}
        >
          <Plus size={13} />
        </Button>
      </Box>
      <Box fontSize="12px" truncate>
        {clip.name}
      </Box>
    </Box>
  );
}

function LookOnShelf({ look, idle }: { look: LookState; idle: boolean }) {
  const readOnly = useBench((s) => s.readOnly);
  return (
    <li>
      <Button
        small
        type="button"
        disabled={readOnly || idle}
        draggable={!readOnly}
        aria-label={`Give ${look.name}`}
        title={`Drag ${look.name} on a shot; a press gives it to the chosen shots, or to the one at the play head`}
        fontFamily="felt"
        fontStyle="italic"
        onDragStart={(event) => beginDrag(event, LOOK, look.id)}
        onClick={() => giveLook(look)}
      >
        {look.name}
      </Button>
    </li>
  );
}
