import { Box, chakra, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import type { Clip, MatchRequest } from "../../api/client";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { findMatch, type Like, lookLike } from "../../store/matches";
import { usePlates } from "../../store/plates";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { ProgressLine } from "../../ui/ProgressLine";
import { Thumbnail } from "../../ui/Thumbnail";
import { useRested } from "../../ui/useRested";
import { usePictures, type Wanted } from "./usePictures";

const Range = chakra("input");

/** CSS pixels, and lines of the pictures. */
const WIDTH = 112;
const LINES = 126;

/** How long the frame has to stand still until it is shown. */
const REST_MS = 150;

type Held = NonNullable<MatchRequest["held"]>[number];

interface Offered {
  key: string;
  name: string;
  like: Like;
  /** The clip that it is a frame of. */
  clip?: Clip;
}

/** A picture that the clip at hand is to come near, and what of its colours stays. */
export function MatchChoice({ clip }: { clip: Clip }) {
  const clips = useClips().data ?? [];
  const plates = usePlates() ?? [];
  useBench((s) => s.catalogue); // what plates are shown by
  const [chosen, setChosen] = useState<string | null>(null);
  const [frames, setFrames] = useState<Record<number, number>>({});
  const [held, setHeld] = useState<Held[]>([]);
  const [place, setPlace] = useState<"before" | "after">("before");
  const [part, setPart] = useState<number | null>(null);
  const giveUp = useRef(new AbortController());
  const rested = useRested(frames, REST_MS);
  const others = clips.filter((each) => each.id !== clip.id);
  const middle = (of: Clip) => Math.floor(of.frames / 2);
  const offered: Offered[] = [
    ...others.map((each) => ({
      key: `clip ${each.id}`,
      name: each.name,
      clip: each,
      like: { kind: "frame" as const, clip: each.id, frame: frames[each.id] ?? middle(each) },
    })),
    ...plates.map((plate) => ({
      key: `plate ${plate.file}`,
      name: plate.title,
      like: { kind: "plate" as const, file: plate.file },
    })),
  ];
  const wanted = offered.map(
    ({ key, like, clip: of }): Wanted => ({
      key,
      clip: of ?? clip,
      frame: of ? (rested[of.id] ?? middle(of)) : 0,
      look: lookLike({ like, place: "before" }),
    }),
  );
  const pictures = usePictures(wanted, LINES);
  const aim = offered.find(({ key }) => key === chosen);
  const turn = (kind: Held, on: boolean) =>
    setHeld((now) => (on ? [...now, kind] : now.filter((each) => each !== kind)));
  const find = async ({ like, name }: Offered) => {
    giveUp.current = new AbortController();
    setPart(0);
    const wish = { like, place, held, name: `Like ${name}` };
    await findMatch(wish, setPart, giveUp.current.signal);
    setPart(null);
  };

  if (!offered.length) return null;
  return (
    <Box as="section" aria-label="Bring the clip near another picture" mt="14px">
      <Box as="h3" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="17px">
        Bring {clip.name} near another picture
      </Box>
      <Box color="mute" fontSize="12px" mb="8px">
        A grade of balance, curve and tone is found for the whole clip, and tried at four amounts.
      </Box>
      <Flex as="ul" listStyleType="none" gap="8px" wrap="wrap">
        {offered.map(({ key, name }) => (
          <li key={key}>
            <Button
              tone="bare"
              type="button"
              height="auto"
              p="4px"
              flexDirection="column"
              alignItems="flex-start"
              gap="3px"
              borderRadius="5px"
              outline={key === chosen ? "2px solid" : undefined}
              outlineColor="tide"
              aria-pressed={key === chosen}
              aria-label={`Like ${name}`}
              onClick={() => setChosen(key)}
            >
              <Thumbnail width={WIDTH} source={pictures[key]} alt="" />
              <Box as="span" fontSize="12px" truncate maxW={`${WIDTH}px`}>
                {name}
              </Box>
            </Button>
          </li>
        ))}
      </Flex>
      {aim?.clip && aim.like.kind === "frame" && (
        <Flex align="center" gap="10px" mt="8px" maxW="420px">
          <label htmlFor="match-frame">Frame</label>
          <Range
            id="match-frame"
            type="range"
            flex="1"
            min={0}
            max={aim.clip.frames - 1}
            value={aim.like.frame}
            onChange={(event) => {
              const [id, frame] = [aim.clip?.id ?? 0, Number(event.target.value)];
              setFrames((now) => ({ ...now, [id]: frame }));
            }}
          />
          <Box minW="78px" color="mute" fontSize="12px">
            {aim.like.frame} of {aim.clip.frames}
          </Box>
        </Flex>
      )}
      <Flex gap="6px 22px" mt="8px" wrap="wrap" align="center">
        {(["skin", "greys"] as const).map((kind) => (
          <chakra.label
            key={kind}
            display="flex"
            alignItems="center"
            gap="5px"
            title="They keep their hue and saturation, as far as such a grade can"
          >
            <input
              type="checkbox"
              checked={held.includes(kind)}
              onChange={(event) => turn(kind, event.target.checked)}
            />
            Hold {kind}
          </chakra.label>
        ))}
        <Box width="230px">
          <Choice
            label="Graded"
            help="Before the look: the footages are alike, and any look may follow. After it: the result is."
            value={place}
            choices={[
              { value: "before", word: "before the look" },
              { value: "after", word: "after the look" },
            ]}
            onChoose={(value) => setPlace(value as "before" | "after")}
          />
        </Box>
      </Flex>
      <Box mt="10px" minHeight="34px" maxW="420px">
        {part === null ? (
          <Button type="button" disabled={!aim} onClick={() => aim && void find(aim)}>
            Find the grade
          </Button>
        ) : (
          <ProgressLine
            says="Measuring the clip:"
            label="The clip is measured"
            done={Math.round(100 * part)}
            total={100}
            rate={0}
            small
            onStop={() => giveUp.current.abort()}
          />
        )}
      </Box>
    </Box>
  );
}
