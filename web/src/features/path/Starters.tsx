import { Box, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useMemo, useState } from "react";
import type { Catalogue, Look, Starter } from "../../api/client";
import { listLooks } from "../../api/lists";
import { countWords } from "../../model/words";
import { bench, setState, useBench } from "../../store/bench";
import { edit } from "../../store/edits";
import { notice } from "../../store/notices";
import { starterStep, useStarters } from "../../store/starters";
import { Button } from "../../ui/Button";
import { usePictures } from "./usePictures";

const Card = chakra("button");
const Image = chakra("img");

/** A look to begin with: a starter, or one of the project's own. */
interface Offered {
  /** Tells it from others, which may have its name. */
  id: string;
  name: string;
  summary: string;
  look: Look;
  bursts: Starter["bursts"];
  own: boolean;
}

const YOURS = "yours";
const NONE: Offered[] = [];

/** The starter looks, and the project's own but for the one on the bench and those without steps. */
function useOffered(): Offered[] {
  const lookId = useBench((s) => s.lookId);
  const starters = useStarters();
  const { data: looks } = useQuery({
    queryKey: ["looks", lookId],
    queryFn: listLooks,
  });
  return useMemo(() => {
    if (!starters) return NONE;
    const made = starters.map((s) => ({ ...s, id: s.name, own: false }));
    const own = (looks ?? [])
      .filter((l) => l.id !== lookId && l.look.steps.length > 0)
      .map(({ id, name, look }) => ({
        id: `own ${id}`,
        name,
        summary: `yours, ${countWords(look.steps.length, "step")}`,
        look,
        bursts: {},
        own: true,
      }));
    return [...made, ...own];
  }, [starters, looks, lookId]);
}

/** Begin from a starter look: its steps stand in the place of the look's; one Undo takes it back. */
async function begin(starter: Offered) {
  const made = starter.look;
  try {
    const steps = await Promise.all(made.steps.map((step) => starterStep(starter, step)));
    edit((look) => ({ ...look, name: look.steps.length ? look.name : made.name, steps }));
    setState({ open: null, starters: false });
  } catch (error) {
    notice("look", error);
  }
}

/** Whether a look has a step of a stage; its bundles are not looked into. */
const hasStage = (starter: Offered, { treatments }: Catalogue, stage: string) =>
  starter.look.steps.some(
    (step) => treatments.find((t) => t.kind === step.treatment)?.stage === stage,
  );

/** Looks to begin with, each on the frame that is shown: all, or those with a step of a stage. */
export function Starters() {
  const catalogue = useBench((s) => s.catalogue);
  const [stage, setStage] = useState<string | null>(null);
  const offered = useOffered();
  const pictures = usePictures(
    useMemo(() => offered.map((o, i) => [String(i), o.look] as const), [offered]),
  );
  const is = (o: Offered, word: string) =>
    word === YOURS ? o.own : catalogue !== null && hasStage(o, catalogue, word);
  const words = [...(catalogue?.stages ?? []), YOURS];
  const stages = words.filter((word) => offered.some((o) => is(o, word)));
  const shown = offered
    .map((o, i) => ({ o, picture: pictures[i] }))
    .filter(({ o }) => !stage || is(o, stage));
  return (
    <Box
      as="section"
      aria-label="Starter looks"
      flex="none"
      height="212px"
      bg="desk"
      px="12px"
      py="7px"
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
          <X size={14} /> Close
        </Button>
      </Flex>
      <Flex gap="12px" overflowX="auto" pb="4px">
        {shown.map(({ o, picture }) => (
          <StarterCard key={o.id} starter={o} picture={picture} />
        ))}
      </Flex>
    </Box>
  );
}

function StarterCard({ starter, picture }: { starter: Offered; picture: string | undefined }) {
  const [listening, setListening] = useState(false);
  return (
    <Card
      type="button"
      width="178px"
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
      <Box width="178px" height="100px" bg="line" borderRadius="4px" overflow="hidden">
        {picture && (
          <Image
            src={picture}
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
