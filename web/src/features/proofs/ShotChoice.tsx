import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Clip, Reel, Shot } from "../../api/client";
import { listReels } from "../../api/lists";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { middleOf } from "../../store/proofs";
import { useReel } from "../../store/reel";
import { Button } from "../../ui/Button";
import { Popover } from "../../ui/Popover";

/** How many frames of the clip at hand a sheet can have. */
const FRAMES = [1, 2, 3, 4, 6];

/** How many shots of a reel a sheet can have: rows of what is tried are to have room too. */
const REEL_SHOTS = 12;

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
  const reels = useQuery({ queryKey: ["reels"], queryFn: listReels }).data;
  const open = useReel((s) => s.reel);
  const cut = middlesOf(open ?? reels?.[0]);
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
      {cut && cut.shots.length > 0 && (
        <Flex gap="4px" align="center" mt="8px" pt="8px" borderTopWidth="1px" borderColor="line">
          <Box flex="1" fontSize="12px" truncate>
            Shots of {cut.name}
          </Box>
          <Button
            small
            type="button"
            title="The middle of each shot; of many, of some that are spread over the reel"
            onClick={() => onChange(cut.shots)}
          >
            {cut.shots.length === cut.of ? `all ${cut.of}` : `${cut.shots.length} of ${cut.of}`}
          </Button>
        </Flex>
      )}
    </Popover>
  );
}

/** The middles of a reel's shots, no two the same: of at most so many, spread over it. */
function middlesOf(reel: Reel | undefined) {
  const middles = (reel?.items ?? []).flatMap((item): Shot[] =>
    item.kind === "shot" && item.clip !== null
      ? [{ clip: item.clip, frame: Math.floor((item.first + item.last) / 2) }]
      : [],
  );
  const all = [...new Map(middles.map((shot) => [JSON.stringify(shot), shot])).values()];
  const every = Math.max(all.length / REEL_SHOTS, 1);
  const shots = all.filter((_, n) => Math.floor(n % every) === 0);
  return reel && { name: reel.name, shots, of: all.length };
}

/** Frames spread over a clip; one is that at hand. */
const framesOf = (clip: Clip, count: number): Shot[] =>
  count === 1
    ? [middleOf(clip)]
    : Array.from({ length: count }, (_, i) => ({
        clip: clip.id,
        frame: Math.floor(((i + 0.5) * clip.frames) / count),
      }));
