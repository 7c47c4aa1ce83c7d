import { Box, Flex } from "@chakra-ui/react";
import type { Clip, Shot } from "../../api/client";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { middleOf } from "../../store/proofs";
import { Button } from "../../ui/Button";
import { Popover } from "../../ui/Popover";

/** How many frames of the clip at hand a sheet can have. */
const FRAMES = [1, 2, 3, 4, 6];

/** Which clips, or which frames of the clip at hand, the sheet has. */
export function ShotChoice({
  shots,
  onChange,
}: {
  shots: Shot[];
  onChange: (shots: Shot[]) => void;
}) {
  const clips = useClips().data ?? [];
  const clip = useBench((s) => s.clip);
  const chosen = new Set(shots.map((shot) => shot.clip));
  const turn = (other: Clip) => {
    const next = clips.filter((c) => (c.id === other.id ? !chosen.has(c.id) : chosen.has(c.id)));
    if (next.length) onChange(next.map(middleOf));
  };
  return (
    <Popover role="dialog" aria-label="Shots of the sheet" width="280px">
      <Box as="ul" listStyleType="none" maxH="240px" overflowY="auto">
        {clips.map((each) => (
          <Box as="li" key={each.id}>
            <label>
              <input type="checkbox" checked={chosen.has(each.id)} onChange={() => turn(each)} />{" "}
              {each.name}
            </label>
          </Box>
        ))}
      </Box>
      {clip && (
        <Flex gap="4px" align="center" mt="8px" pt="8px" borderTopWidth="1px" borderColor="line">
          <Box flex="1" fontSize="12px">
            Frames of {clip.name}
          </Box>
          {FRAMES.map((count) => (
            <Button
              key={count}
              small
              type="button"
              px="7px"
              onClick={() => onChange(framesOf(clip, count))}
            >
              {count}
            </Button>
          ))}
        </Flex>
      )}
    </Popover>
  );
}

/** Frames spread over a clip; one is that at hand. */
const framesOf = (clip: Clip, count: number): Shot[] =>
  count === 1
    ? [middleOf(clip)]
    : Array.from({ length: count }, (_, i) => ({
        clip: clip.id,
        frame: Math.floor(((i + 0.5) * clip.frames) / count),
      }));
