import { Box, chakra, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Step } from "../../api/client";
import { innerSteps } from "../../model/lookTree";
import { stepName } from "../../model/stepNames";
import { summary } from "../../model/stepSummary";
import { setState, useBench } from "../../store/bench";
import { changeStep, unbundle } from "../../store/edits";
import { treatmentOf } from "../../store/look";
import { Button } from "../../ui/Button";
import { TextField } from "../../ui/TextField";
import { Thumbnail } from "../../ui/Thumbnail";

const Card = chakra("button");
/** What a bundle holds; a step of it opens in the bundle's place. */
export function BundlePanel({ step }: { step: Step }) {
  const thumbnails = useBench((s) => s.thumbnails);
  const [name, setName] = useState(step.name ?? "");
  useEffect(() => setName(step.name ?? ""), [step.name]);
  const rename = () => {
    if (name.trim() !== (step.name ?? ""))
      changeStep(step.id, (s) => ({ ...s, name: name.trim().slice(0, 120) }));
  };
  return (
    <Box>
      <Flex gap="6px" align="center" mb="8px">
        <TextField
          aria-label="Name of the bundle"
          placeholder="Give it a name"
          height="26px"
          width="160px"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
          onBlur={rename}
          onKeyDown={(event) => event.key === "Enter" && rename()}
        />
        <Button
          small
          type="button"
          title="Its steps stand in its place"
          onClick={() => unbundle(step.id)}
        >
          Unbundle
        </Button>
      </Flex>
      <Flex gap="8px" maxW="340px" overflowX="auto" pb="4px">
        {innerSteps(step).map((s) => (
          <Card
            key={s.id}
            type="button"
            width="98px"
            flex="none"
            textAlign="left"
            cursor="pointer"
            title="Open it"
            onClick={() => setState({ open: s.id })}
          >
            <Thumbnail source={thumbnails[s.id]} alt={`After ${stepName(s)}`} dimmed={!s.on} />
            <Box fontWeight="700">{stepName(s)}</Box>
            <Box color="mute" fontSize="12px" whiteSpace="nowrap" overflow="hidden">
              {s.on ? summary(s, treatmentOf(s)) : "off"}
            </Box>
          </Card>
        ))}
      </Flex>
    </Box>
  );
}
