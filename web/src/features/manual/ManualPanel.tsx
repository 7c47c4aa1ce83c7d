import { Box, chakra, Flex } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import type { Setting, Starter, Step, Treatment } from "../../api/client";
import { findStep, isBundle } from "../../model/lookTree";
import { rangeWords } from "../../model/settingWords";
import { stepName, treatmentName } from "../../model/stepNames";
import { useBench } from "../../store/bench";
import { changeStep } from "../../store/edits";
import { beginWalk, useStarters } from "../../store/starters";
import { Button } from "../../ui/Button";
import { Walk } from "./Walk";

const Note = chakra("textarea");

const LONGEST_NOTE = 500;

/** What the open step is there for and how it works; with none open, what there is and how-tos. */
export function ManualPanel() {
  const steps = useBench((s) => s.look?.steps) ?? [];
  const step = useBench((s) => findStep(s.look?.steps ?? [], s.open));
  const treatments = useBench((s) => s.catalogue?.treatments) ?? [];
  const walking = useBench((s) => (s.walk?.look === s.lookId ? s.walk?.starter : undefined));
  const starters = useStarters();
  const [read, setRead] = useState<string | null>(null);
  const walk = starters?.find((starter) => starter.name === walking);
  const page = treatments.find((t) => t.kind === (step ? step.treatment : read));
  return (
    <Flex direction="column" gap="10px" fontSize="13px" lineHeight="1.4">
      {walk && <Walk starter={walk} steps={steps} />}
      {step && <StepNote step={step} />}
      {page && <TreatmentPage treatment={page} />}
      {step && isBundle(step) && (
        <Box>A bundle holds steps of its own and is mixed back as one.</Box>
      )}
      {!step && page && (
        <Button tone="wallOn" small type="button" onClick={() => setRead(null)}>
          All treatments
        </Button>
      )}
      {!step && !page && (
        <>
          {!walk && starters && <HowTos starters={starters} />}
          <Index treatments={treatments} onRead={setRead} />
        </>
      )}
    </Flex>
  );
}

function Heading({ children }: { children: ReactNode }) {
  return (
    <Box as="h3" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="16px">
      {children}
    </Box>
  );
}

/** What a step is there for: a starter's own words, or the editor's. */
function StepNote({ step }: { step: Step }) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    if (typed !== null && typed !== (step.note ?? ""))
      changeStep(step.id, (s) => ({ ...s, note: typed }));
    setTyped(null);
  };
  return (
    <Box as="label">
      <Box color="wallMute">Note on {stepName(step)}</Box>
      <Note
        key={step.id}
        width="100%"
        rows={3}
        mt="3px"
        p="6px"
        bg="wallKey"
        color="wallInk"
        borderRadius="4px"
        resize="vertical"
        maxLength={LONGEST_NOTE}
        placeholder="What it is there for; kept in the look"
        _placeholder={{ color: "wallMute" }}
        value={typed ?? step.note ?? ""}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
      />
    </Box>
  );
}

/** How a treatment works, and a line for each of its settings. */
function TreatmentPage({ treatment }: { treatment: Treatment }) {
  return (
    <Box as="article" aria-label={`Manual: ${treatmentName(treatment.kind)}`}>
      <Heading>{treatmentName(treatment.kind)}</Heading>
      {paragraphs(treatment).map((text) => (
        <Box as="p" key={text} mt="5px">
          {text}
        </Box>
      ))}
      <Box mt="10px">
        <Heading>Its settings</Heading>
      </Box>
      <Box as="dl" mt="2px">
        {treatment.settings.map((setting) => (
          <SettingLine key={setting.name} setting={setting} />
        ))}
      </Box>
    </Box>
  );
}

/** Docs in paragraphs, settings by what the page calls them. */
function paragraphs({ docs, settings }: Treatment): string[] {
  const labelOf = (name: string) => settings.find((s) => s.name === name)?.label ?? name;
  return docs.split(/\n\s*\n/).map((text) =>
    text
      .replace(/`([^`]*)`/g, (_, name) => labelOf(name))
      .replace(/\s+/g, " ")
      .trim(),
  );
}

function SettingLine({ setting }: { setting: Setting }) {
  return (
    <Box mt="6px">
      <Box as="dt" fontWeight="700">
        {setting.label}
      </Box>
      <Box as="dd">
        {setting.help}
        <Box as="span" color="wallMute">
          {" "}
          {rangeWords(setting)}
        </Box>
      </Box>
    </Box>
  );
}

/** The recipes of the trade, each walked through step by step in a new look. */
function HowTos({ starters }: { starters: Starter[] }) {
  return (
    <Box as="section" aria-label="How-tos">
      <Heading>How-tos</Heading>
      <Box color="wallMute">
        Each builds a look step by step, on the frame at hand, and says what every step is for.
      </Box>
      <Flex as="ul" direction="column" gap="2px" mt="5px" listStyleType="none">
        {starters.map((starter) => (
          <Box as="li" key={starter.name}>
            <Button
              tone="wall"
              small
              type="button"
              width="100%"
              justifyContent="flex-start"
              title={starter.summary}
              aria-label={`Walk through ${starter.name}`}
              onClick={() => void beginWalk(starter)}
            >
              {starter.name}
            </Button>
          </Box>
        ))}
      </Flex>
    </Box>
  );
}

/** All treatments, in the order light meets them. */
function Index({
  treatments,
  onRead,
}: {
  treatments: Treatment[];
  onRead: (kind: string) => void;
}) {
  const stages = useBench((s) => s.catalogue?.stages) ?? [];
  return (
    <Box as="section" aria-label="Treatments">
      <Heading>Treatments</Heading>
      {stages.map((stage) => {
        const here = treatments.filter((t) => t.stage === stage);
        if (!here.length) return null;
        return (
          <Box key={stage} mt="5px">
            <Box color="wallMute">{stage}</Box>
            <Flex gap="3px" wrap="wrap">
              {here.map((t) => (
                <Button
                  key={t.kind}
                  tone="wall"
                  small
                  type="button"
                  title={t.summary}
                  onClick={() => onRead(t.kind)}
                >
                  {treatmentName(t.kind)}
                </Button>
              ))}
            </Flex>
          </Box>
        );
      })}
    </Box>
  );
}
