import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Clip, LookState } from "../../api/client";
import { listLooks } from "../../api/lists";
import { beyondEnd } from "../../model/beyondEnd";
import { allSteps } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { timecode } from "../../model/timecode";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { giveSeedsByClip, lookOn } from "../../store/fittings";
import { startRender } from "../../store/renders";
import { Button } from "../../ui/Button";
import { Notices } from "../bench/Notices";
import { Farm } from "./Farm";
import { FlashCheck } from "./FlashCheck";
import { RenderAs } from "./RenderAs";
import { field } from "./WantedSelects";

const Select = chakra("select");
const Choice = chakra("button");
const Image = chakra("img");

/** One look on many clips: each is a render of its own, and none waits for another's failure. */
export function RenderClips() {
  const clips = useClips();
  const looks = useQuery({ queryKey: ["looks"], queryFn: listLooks });
  const onBench = useBench((s) => s.clip);
  const readOnly = useBench((s) => s.readOnly);
  const lookOnBench = useBench((s) => s.lookId);
  const draft = useBench((s) => s.shared);
  useBench((s) => s.fittings); // what the looks on clips are made of
  const [picked, setPicked] = useState<Set<number> | null>(null);
  const [lookId, setLookId] = useState<number | null>(null);
  const chosenIds = picked ?? new Set(onBench ? [onBench.id] : []);
  const chosen = clips.data?.filter((clip) => chosenIds.has(clip.id)) ?? [];
  const wanted = lookId ?? lookOnBench;
  const look = looks.data?.find((l) => l.id === wanted);
  const turn = (id: number) => {
    const next = new Set(chosenIds);
    if (!next.delete(id)) next.add(id);
    setPicked(next);
  };
  const render = async () => {
    if (look) for (const clip of chosen) await startRender(clip, lookOn(clip, look), wanted);
  };
  return (
    <Flex
      as="section"
      aria-label="Render clips"
      direction="column"
      gap="6px"
      width="300px"
      flex="none"
      bg="paper"
      borderLeftWidth="1px"
      borderColor="line"
      p="14px"
      overflowY="auto"
    >
      <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="20px">
        Render clips
      </Box>
      <Flex justify="space-between" color="mute">
        <Box>Which clips</Box>
        {clips.data && clips.data.length > 1 && (
          <Button
            tone="bare"
            small
            type="button"
            onClick={() =>
              setPicked(
                new Set(chosen.length === clips.data.length ? [] : clips.data.map((c) => c.id)),
              )
            }
          >
            {chosen.length === clips.data.length ? "None" : "All"}
          </Button>
        )}
      </Flex>
      <Flex
        direction="column"
        gap="4px"
        role="group"
        aria-label="Which clips"
        maxH="216px"
        overflowY="auto"
        mx="-4px"
        px="4px"
        py="2px"
      >
        {clips.data?.length === 0 && (
          <Box>Drop clips anywhere on the page; they are listed here.</Box>
        )}
        {clips.data?.map((clip) => (
          <ClipChoice key={clip.id} clip={clip} on={chosenIds.has(clip.id)} turn={turn} />
        ))}
      </Flex>
      <Box>
        <Box color="mute" mb="2px">
          With look
        </Box>
        <Select
          {...field("paper")}
          aria-label="With look"
          value={wanted ?? ""}
          onChange={(event) => setLookId(Number(event.target.value))}
        >
          {looks.data?.map((each) => (
            <option key={each.id} value={each.id}>
              {each.id === lookOnBench ? (draft?.name ?? each.name) : each.name}
            </option>
          ))}
        </Select>
      </Box>
      <RenderAs clips={chosen} ground="paper" />
      <Farm />
      <Notices where="render" />
      {look && <FlashCheck clips={chosen} lookOn={(clip) => lookOn(clip, look)} begin />}
      {look && <SameSeeds clips={chosen} look={look} />}
      {look && <BeyondEnd clips={chosen} look={look} />}
      <Button
        tone="main"
        type="button"
        mt="6px"
        height="36px"
        flex="none"
        disabled={!chosen.length || !look || readOnly}
        onClick={() => void render()}
      >
        {chosen.length > 1 ? `Render ${chosen.length} clips` : "Render clip"}
      </Button>
    </Flex>
  );
}

function ClipChoice({ clip, on, turn }: { clip: Clip; on: boolean; turn: (id: number) => void }) {
  return (
    <Choice
      type="button"
      role="checkbox"
      aria-checked={on}
      aria-label={clip.name}
      display="flex"
      gap="10px"
      alignItems="center"
      textAlign="left"
      cursor="pointer"
      borderRadius="5px"
      flex="none"
      onClick={() => turn(clip.id)}
    >
      <Box
        width="72px"
        height="41px"
        borderRadius="4px"
        overflow="hidden"
        bg="line"
        outline="2px solid"
        outlineColor={on ? "tide" : "transparent"}
        opacity={on ? 1 : 0.55}
      >
        <Image
          src={`/api/v1/clips/${clip.id}/filmstrip?count=1`}
          alt=""
          width="100%"
          height="100%"
          objectFit="contain"
        />
      </Box>
      <Box minW="0" flex="1">
        <Box
          fontWeight="700"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
          color={on ? "ink" : "mute"}
        >
          {clip.name}
        </Box>
        <Box color="mute">{timecode(clip.frames, clip.rate)}</Box>
      </Box>
      <Box aria-hidden color="tide" fontWeight="700" px="4px">
        {on ? "✓" : ""}
      </Box>
    </Choice>
  );
}

/** What is seen to be the same where several clips share it. */
const ALIKE = ["dust", "grain"];

/** Offers that no two clips share their dust. */
function SameSeeds({ clips, look }: { clips: Clip[]; look: LookState }) {
  const onBench = useBench((s) => (s.lookId === look.id ? s.shared : null));
  const same = allSteps((onBench ?? look.look).steps).filter(
    (step) => step.on && ALIKE.includes(step.treatment) && !step.seed_by_clip,
  );
  if (clips.length < 2 || same.length === 0) return null;
  const names = same.map(stepName).join(" and ");
  return (
    <Box role="status" fontSize="12px" lineHeight="1.35">
      {names} {same.length > 1 ? "are" : "is"} the same on all {clips.length} clips.{" "}
      <Button small type="button" onClick={() => void giveSeedsByClip(look, same)}>
        Other for every clip
      </Button>
    </Box>
  );
}

/** Says on which clips a look names frames beyond the end; what lies within counts. */
function BeyondEnd({ clips, look }: { clips: Clip[]; look: LookState }) {
  const found = clips.flatMap((clip) => {
    const steps = beyondEnd(lookOn(clip, look).steps, clip.frames);
    return steps.length ? [{ clip, steps }] : [];
  });
  return found.map(({ clip, steps }) => (
    <Box key={clip.id} role="status" fontSize="12px" lineHeight="1.35">
      On {clip.name}, {steps.map(stepName).join(" and ")} {steps.length > 1 ? "have" : "has"} keys
      or bursts beyond its end: what lies within counts.
    </Box>
  ));
}
