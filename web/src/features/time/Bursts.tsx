import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { api, type Burst, type BurstsRule, unwrap } from "../../api/client";
import { burstsOf, withBurst, withoutBurst } from "../../model/bursts";
import { setState, useBench } from "../../store/bench";
import { changeStep } from "../../store/edits";
import { notice } from "../../store/notices";
import { Button } from "../../ui/Button";
import { ChoiceButtons } from "../../ui/ChoiceButtons";
import { NumberField } from "../../ui/NumberField";
import { useOpenStep } from "./Lanes";

const row = {
  align: "center",
  wrap: "wrap",
  gap: "6px 8px",
  fontSize: "12px",
  mt: "5px",
  minH: "26px",
} as const;

/** The burst that is picked: its ends, and how it comes and goes. */
export function BurstStrip() {
  const step = useOpenStep();
  const picked = useBench((s) => s.picked);
  const clip = useBench((s) => s.clip);
  const burst = step && picked?.kind === "burst" ? burstsOf(step)[picked.at] : undefined;
  if (!step || !clip || !burst || picked?.kind !== "burst") return null;
  const change = (given: Partial<Burst>) =>
    changeStep(step.id, (s) => withBurst(s, picked.at, given, clip.frames));
  const last = clip.frames - 1;
  return (
    <Flex role="group" aria-label="Picked burst" {...row}>
      <Box color="ember" fontWeight="700">
        Burst {picked.at + 1}
      </Box>
      <Box>from frame</Box>
      <NumberField
        label="First frame of the burst"
        value={burst.from}
        minimum={0}
        maximum={last}
        onEnter={(from) => change({ from })}
      />
      <Box>to</Box>
      <NumberField
        label="Last frame of the burst"
        value={burst.to}
        minimum={0}
        maximum={last}
        onEnter={(to) => change({ to })}
      />
      <Box>comes and goes over</Box>
      <NumberField
        label="Ramp of the burst"
        value={burst.ramp ?? 0}
        minimum={0}
        maximum={last}
        onEnter={(ramp) => change({ ramp })}
      />
      <Box>frames</Box>
      <Box flex="1" />
      <Button
        small
        height="24px"
        type="button"
        title="Remove the burst (Delete)"
        onClick={() => {
          changeStep(step.id, (s) => withoutBurst(s, picked.at));
          setState({ picked: null });
        }}
      >
        Remove
      </Button>
    </Flex>
  );
}

type Way = BurstsRule["way"];
const WAYS: [Way, string, string][] = [
  ["repeated", "at an interval", "One every so many frames"],
  ["scattered", "by chance", "Spread over the clip; the same for a seed"],
  ["sound", "on the sound", "Where something begins to sound"],
];

const MADE = {
  first: 0,
  length: 6,
  every: 24,
  count: 8,
  shortest: 3,
  longest: 10,
  seed: 1,
  threshold: 1,
  ramp: 0,
};
type Numbers = typeof MADE;

const FIELDS: Record<Way, [keyof Numbers, string, number, number, number?][]> = {
  repeated: [
    ["length", "frames long, every", 1, 10_000],
    ["every", "from frame", 2, 10_000],
    ["first", "", 0, 10_000_000],
  ],
  scattered: [
    ["count", "bursts of", 1, 2000],
    ["shortest", "to", 1, 10_000],
    ["longest", "frames, seed", 1, 10_000],
    ["seed", "", 0, 1_000_000],
  ],
  sound: [
    ["length", "frames long, where the sound rises by", 1, 10_000],
    ["threshold", "σ", 0, 20, 2],
  ],
};

/** A rule with its own of the numbers. */
function ruleOf(way: Way, numbers: Numbers): BurstsRule {
  const { ramp, first, length, every, count, shortest, longest, seed, threshold } = numbers;
  if (way === "repeated") return { way, ramp, first, length, every };
  if (way === "scattered") return { way, ramp, count, shortest, longest, seed };
  return { way, ramp, length, threshold };
}

const LABELS: Record<keyof Numbers, string> = {
  first: "First frame",
  length: "Length of a burst",
  every: "Interval",
  count: "How many bursts",
  shortest: "Shortest burst",
  longest: "Longest burst",
  seed: "Seed",
  threshold: "Threshold",
  ramp: "Ramp",
};

/** Bursts of the open step made by a rule: they take the place of those it has. */
export function BurstsByRule() {
  const step = useOpenStep();
  const clip = useBench((s) => s.clip);
  const [way, setWay] = useState<Way>("repeated");
  const [numbers, setNumbers] = useState(MADE);
  const [working, setWorking] = useState(false);
  if (!step || !clip) return null;
  const say = (name: keyof Numbers) => (value: number) => setNumbers({ ...numbers, [name]: value });
  const make = async () => {
    const body = ruleOf(way, numbers);
    setWorking(true);
    try {
      const params = { path: { clip_id: clip.id } };
      const bursts = await unwrap(api.POST("/api/v1/clips/{clip_id}/bursts", { params, body }));
      if (bursts.length === 0) throw new Error("Nothing begins to sound there; lower the rise.");
      changeStep(step.id, (s) => ({ ...s, bursts }));
      setState({ picked: null });
    } catch (error) {
      notice("look", error);
    }
    setWorking(false);
  };
  return (
    <Flex role="group" aria-label="Bursts by rule" {...row}>
      <Box color="ember" fontWeight="700">
        Bursts
      </Box>
      <Flex gap="3px" role="group" aria-label="Rule">
        <ChoiceButtons
          choices={WAYS.map(([value, word, hint]) => ({
            value,
            word,
            hint,
            disabled: value === "sound" && clip.audio.length === 0,
          }))}
          chosen={way}
          height="24px"
          onChoose={setWay}
        />
      </Flex>
      {FIELDS[way].map(([name, after, minimum, maximum, digits]) => (
        <Flex key={name} align="center" gap="8px">
          <NumberField
            label={LABELS[name]}
            value={numbers[name]}
            minimum={minimum}
            maximum={maximum}
            digits={digits}
            onEnter={say(name)}
          />
          {after && <Box whiteSpace="nowrap">{after}</Box>}
        </Flex>
      ))}
      <Box>ramp</Box>
      <NumberField
        label={LABELS.ramp}
        value={numbers.ramp}
        minimum={0}
        maximum={10_000}
        onEnter={say("ramp")}
      />
      <Box flex="1" />
      <Button small height="24px" type="button" disabled={working} onClick={() => void make()}>
        {working ? "Listening…" : "Create bursts"}
      </Button>
      <Button
        small
        height="24px"
        type="button"
        disabled={burstsOf(step).length === 0}
        title="The step is active always again"
        onClick={() => {
          changeStep(step.id, (s) => ({ ...s, bursts: [] }));
          setState({ picked: null });
        }}
      >
        Remove all
      </Button>
    </Flex>
  );
}
