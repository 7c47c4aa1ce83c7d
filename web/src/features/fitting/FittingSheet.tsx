import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";
import type { Clip, Step } from "../../api/client";
import { type Part, partsOf } from "../../model/fittings";
import { allSteps } from "../../model/lookTree";
import { inNumbers } from "../../model/shownNumbers";
import { stepName } from "../../model/stepNames";
import { countWords, formatFixed } from "../../model/words";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import {
  copyFittingTo,
  giveAllBack,
  giveBack,
  makeEveryones,
  useFitting,
} from "../../store/fittings";
import { treatmentOf } from "../../store/look";
import { Button } from "../../ui/Button";
import { Popover } from "../../ui/Popover";
import { labelOf } from "../time/Lanes";

/** What of the look is this clip's own: given back, made everyone's, given to other clips. */
export function FittingSheet({ clip }: { clip: Clip }) {
  const steps = useBench((s) => s.look?.steps) ?? [];
  const lookId = useBench((s) => s.lookId);
  const own = useFitting();
  const [copying, setCopying] = useState(false);
  const found = allSteps(steps).filter((step) => own.steps[step.id]);
  return (
    <Popover role="dialog" aria-label={`What is ${clip.name}'s own`} width="440px">
      <Box mb="6px">
        <b>{clip.name}</b> has of its own:
      </Box>
      <Box as="ul" listStyleType="none" maxH="300px" overflowY="auto">
        {found.flatMap((step) =>
          partsOf(step.id, own.steps[step.id] ?? NONE).map((part) => (
            <Flex as="li" key={JSON.stringify(part)} align="center" gap="6px" minH="28px">
              <Box flex="1" minW="0" truncate>
                <Box as="span" fontFamily="felt" fontStyle="italic">
                  {stepName(step)}
                </Box>
                : {inWords(step, part)}
              </Box>
              <Button small type="button" onClick={() => giveBack([part])}>
                Reset to the look
              </Button>
              <Button
                small
                type="button"
                title="Every clip has it from now on, but for those with one of their own"
                onClick={() => makeEveryones([part])}
              >
                Make it everyone's
              </Button>
            </Flex>
          )),
        )}
      </Box>
      <Flex gap="6px" mt="8px" pt="8px" borderTopWidth="1px" borderColor="line" wrap="wrap">
        <Button
          small
          type="button"
          title="The look stands here as on every clip; Undo brings it back"
          onClick={giveAllBack}
        >
          Reset all to the look
        </Button>
        <Button
          small
          type="button"
          tone={copying ? "here" : "paper"}
          aria-expanded={copying}
          onClick={() => setCopying(!copying)}
        >
          Copy to other clips…
        </Button>
        <Button small asChild>
          <a
            href={`/api/v1/looks/${lookId}/fittings/${clip.id}/file`}
            title="What is this clip's own, beside the look's file: for --fitting, or to drop it here"
            download
          >
            Save as file
          </a>
        </Button>
      </Flex>
      {copying && <OtherClips clip={clip} done={() => setCopying(false)} />}
    </Popover>
  );
}

const NONE = { settings: {}, mix: {}, keys: {}, bursts: null, on: null };

function inWords(step: Step, { field, name }: Part): string {
  if (field === "bursts") return countWords(step.bursts?.length ?? 0, "burst");
  if (field === "on") return step.on ? "on" : "off";
  if (field === "keys") return `keys of ${labelOf(step, name)}`;
  if (field === "mix")
    return name === "mask"
      ? `mask, ${countWords(step.mix.mask?.length ?? 0, "shape")}`
      : mixWords(step, name);
  const setting = treatmentOf(step)?.settings.find((s) => s.name === name);
  const value = step.settings[name];
  return `${labelOf(step, name)} ${(setting && inNumbers(setting, value)) || plain(value)}`;
}

function mixWords(step: Step, name: string) {
  const value = Object.entries(step.mix).find(([field]) => field === name)?.[1];
  const words = name === "amount" ? `${formatFixed(100 * Number(value), 0)} %` : plain(value);
  return `${labelOf(step, `mix.${name}`)} ${words}`;
}

const plain = (value: unknown) =>
  typeof value === "object" || value === undefined ? "" : String(value);

/** The other clips of the project: those chosen have what is this one's own, too. */
function OtherClips({ clip, done }: { clip: Clip; done: () => void }) {
  const others = useClips().data?.filter((other) => other.id !== clip.id) ?? [];
  const fittings = useBench((s) => s.fittings);
  const [chosen, setChosen] = useState(new Set<number>());
  return (
    <Box mt="8px">
      <Flex as="ul" direction="column" listStyleType="none" maxH="160px" overflowY="auto">
        {others.map((other) => (
          <Box as="li" key={other.id}>
            <label>
              <input
                type="checkbox"
                checked={chosen.has(other.id)}
                onChange={() => {
                  const next = new Set(chosen);
                  if (!next.delete(other.id)) next.add(other.id);
                  setChosen(next);
                }}
              />{" "}
              {other.name}
              {fittings[other.id] && (
                <Box as="span" color="mute">
                  {" "}
                  in the place of its own
                </Box>
              )}
            </label>
          </Box>
        ))}
      </Flex>
      <Button
        small
        type="button"
        mt="4px"
        disabled={chosen.size === 0}
        onClick={() => {
          copyFittingTo(others.filter((other) => chosen.has(other.id)));
          done();
        }}
      >
        Copy to {countWords(chosen.size, "clip")}
      </Button>
    </Box>
  );
}
