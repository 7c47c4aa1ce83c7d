import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useEffect, useState } from "react";
import {
  api,
  type Burst,
  type BurstsRule,
  type Catalogue,
  type Look,
  pictureOf,
  type Starter,
  type StarterBursts,
  unwrap,
} from "../../api/client";
import { bench, setState, useBench } from "../../store/bench";
import { edit } from "../../store/edits";
import { notice } from "../../store/notices";
import { Button } from "../../ui/Button";

const Card = chakra("button");
const Image = chakra("img");

/** Frames from burst to burst in a clip that has no beats, and from beat to beat at the most. */
const EVERY = 24;
const RARE = 72;

/** Bursts of such a length for the clip: on the beats of its sound, or else evenly. */
async function burstsFor({ length, ramp, threshold }: StarterBursts): Promise<Burst[]> {
  const clip = bench().clip;
  if (!clip) return [];
  const ask = (body: BurstsRule) =>
    unwrap(
      api.POST("/api/clips/{clip_id}/bursts", { params: { path: { clip_id: clip.id } }, body }),
    );
  const heard = clip.audio.length ? await ask({ way: "sound", length, ramp, threshold }) : [];
  if (heard.length * RARE >= clip.frames) return heard;
  return ask({ way: "repeated", length, ramp, every: EVERY, first: EVERY / 2 });
}

/** Begin from a starter look: its steps stand in the place of the look's; one Undo takes it back. */
async function begin(starter: Starter) {
  const made = starter.look as unknown as Look;
  try {
    const steps = await Promise.all(
      made.steps.map(async (step) => {
        const given = starter.bursts[step.id];
        return given ? { ...step, bursts: await burstsFor(given) } : step;
      }),
    );
    edit((look) => ({ ...look, name: look.steps.length ? look.name : made.name, steps }));
    setState({ open: null, starters: false });
  } catch (error) {
    notice("look", error);
  }
}

/** Whether a starter has a step of a stage; its bundles are not looked into. */
const hasStage = (starter: Starter, { treatments }: Catalogue, stage: string) =>
  (starter.look as unknown as Look).steps.some(
    (step) => treatments.find((t) => t.kind === step.treatment)?.stage === stage,
  );

/** Looks to begin with, each on the frame that is shown: all, or those with a step of a stage. */
export function Starters() {
  const catalogue = useBench((s) => s.catalogue);
  const [stage, setStage] = useState<string | null>(null);
  const starters = useQuery({
    queryKey: ["starters"],
    queryFn: () => unwrap(api.GET("/api/starters")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const stages = (catalogue?.stages ?? []).filter(
    (each) => catalogue && starters.data?.some((starter) => hasStage(starter, catalogue, each)),
  );
  const shown = starters.data?.filter(
    (starter) => !stage || (catalogue && hasStage(starter, catalogue, stage)),
  );
  return (
    <Box
      as="section"
      aria-label="Starter looks"
      flex="none"
      height="254px"
      bg="desk"
      px="12px"
      py="9px"
      onKeyDown={(event) => event.key === "Escape" && setState({ starters: false })}
    >
      <Flex align="baseline" gap="10px" mb="6px">
        <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="18px">
          Starter looks
        </Box>
        <Box color="mute">
          on this frame. One click puts its steps in place of yours; Undo takes it back.
        </Box>
        <Box flex="1" />
        <Flex role="group" aria-label="With steps of" gap="2px" alignSelf="center">
          {[null, ...stages].map((each) => (
            <Button
              key={each}
              small
              type="button"
              tone={each === stage ? "here" : "bare"}
              aria-pressed={each === stage}
              fontFamily="felt"
              fontStyle="italic"
              onClick={() => setStage(each)}
            >
              {each ?? "all"}
            </Button>
          ))}
        </Flex>
        <Button
          small
          tone="bare"
          type="button"
          alignSelf="center"
          aria-label="Put the starter looks away"
          onClick={() => setState({ starters: false })}
        >
          <X size={14} /> Put away
        </Button>
      </Flex>
      <Flex gap="12px" overflowX="auto" pb="4px">
        {shown?.map((starter) => (
          <StarterCard key={starter.name} starter={starter} />
        ))}
      </Flex>
    </Box>
  );
}

function StarterCard({ starter }: { starter: Starter }) {
  const clip = useBench((s) => s.clip);
  const frame = useBench((s) => s.frame);
  const playing = useBench((s) => s.playing);
  const [address, setAddress] = useState<string | null>(null);
  const [listening, setListening] = useState(false);
  useEffect(() => {
    if (!clip || playing) return;
    const away = new AbortController();
    let made: string | null = null;
    pictureOf(clip, starter.look as unknown as Look, { frame, height: 180 }, away.signal)
      .then((blob) => {
        made = URL.createObjectURL(blob);
        setAddress(made);
      })
      .catch(() => undefined);
    return () => {
      away.abort();
      if (made) URL.revokeObjectURL(made);
    };
  }, [clip, frame, playing, starter]);
  return (
    <Card
      type="button"
      width="214px"
      flex="none"
      alignSelf="flex-start"
      textAlign="left"
      cursor="pointer"
      borderRadius="6px"
      disabled={listening}
      onClick={() => {
        setListening(true);
        void begin(starter).finally(() => setListening(false));
      }}
    >
      <Box width="214px" height="120px" bg="line" borderRadius="4px" overflow="hidden">
        {address && (
          <Image
            src={address}
            alt={`This frame as ${starter.name}`}
            width="100%"
            height="100%"
            objectFit="cover"
          />
        )}
      </Box>
      <Box fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="15px" mt="4px">
        {starter.name}
      </Box>
      <Box color="mute" fontSize="12px" lineHeight="1.25">
        {listening && Object.keys(starter.bursts).length
          ? "Listening to the clip for its beats…"
          : starter.summary}
      </Box>
    </Card>
  );
}

/** Show the starter looks instead of the path. */
export const showStarters = () => setState({ starters: !bench().starters });
