import { Box, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import type { Clip, LookState } from "../../api/client";
import { FEWEST, MOST, type Sheet, type Shot, type Span } from "../../model/proofs";
import { shownAs, UNITS } from "../../model/shownNumbers";
import { bench, useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { openSheet, proofControl, setSheet, settingOf } from "../../store/proofs";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { subjectWords } from "./variants";

const Select = chakra("select");

/** What the sheet tries, and on which shots. */
export function SheetBar({ sheet, looks }: { sheet: Sheet; looks: LookState[] }) {
  const look = useBench((s) => s.look);
  const name = useBench((s) => s.shared?.name ?? "");
  const { subject, shots } = sheet;
  const [choosing, setChoosing] = useState(false);
  const ofStep = "step" in subject ? subject.step : undefined;
  return (
    <Flex
      align="center"
      gap="10px"
      px="16px"
      py="6px"
      minH="44px"
      flex="none"
      bg="desk"
      wrap="wrap"
      position="relative"
    >
      <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="19px">
        {subjectWords(subject, look)}
      </Box>
      {ofStep && <Box color="mute">of {name}</Box>}
      <Box flex="1" />
      {subject.kind === "span" && (
        <SpanFields
          span={subject.span}
          step={subject.step}
          name={subject.name}
          onChange={(span) => setSheet({ ...sheet, subject: { ...subject, span } })}
        />
      )}
      {ofStep && subject.kind !== "clips" && (
        <>
          <Button small type="button" onClick={() => proofControl(ofStep, "mix.blend")}>
            All blend modes
          </Button>
          <Button small type="button" onClick={() => proofControl(ofStep, "mix.amount")}>
            Amounts
          </Button>
        </>
      )}
      {subject.kind !== "looks" && looks.length > 1 && (
        <Button
          small
          type="button"
          onClick={() =>
            openSheet({ kind: "looks", ids: looks.slice(0, MOST).map((l) => l.id) }, shots)
          }
        >
          All looks
        </Button>
      )}
      <Button
        small
        type="button"
        tone={choosing ? "here" : "paper"}
        aria-expanded={choosing}
        onClick={() => setChoosing(!choosing)}
      >
        Change shots…
      </Button>
      {choosing && (
        <Box position="absolute" right="16px" top="42px" zIndex="8">
          <ShotChoice shots={shots} onChange={(next) => setSheet({ ...sheet, shots: next })} />
        </Box>
      )}
    </Flex>
  );
}

interface SpanProps {
  span: Span;
  step: string;
  name: string;
  onChange: (span: Span) => void;
}

/** From which value to which, how many, and how they follow each other. */
function SpanFields({ span, step, name, onChange }: SpanProps) {
  const setting = settingOf(step, name);
  if (!setting) return null;
  const { scale, digits } = shownAs(setting);
  const minimum = (setting.minimum ?? -1e6) * scale;
  const maximum = (setting.maximum ?? 1e6) * scale;
  const field = (end: "low" | "high", label: string) => (
    <NumberField
      label={label}
      value={span[end] * scale}
      minimum={minimum}
      maximum={maximum}
      digits={digits}
      onEnter={(value) => onChange({ ...span, [end]: value / scale })}
    />
  );
  return (
    <Flex align="center" gap="5px">
      from {field("low", "From")} to {field("high", "To")}
      <Box color="mute" fontSize="12px">
        {UNITS[setting.unit]}
      </Box>
      <NumberField
        label="How many"
        value={span.count}
        minimum={FEWEST}
        maximum={MOST}
        digits={0}
        onEnter={(count) => onChange({ ...span, count: Math.round(count) })}
      />
      <Select
        aria-label="How they follow each other"
        value={span.way}
        height="26px"
        bg="sheet"
        borderWidth="1px"
        borderColor="line"
        borderRadius="5px"
        fontSize="12px"
        onChange={(event) =>
          onChange({ ...span, way: event.target.value === "even" ? "even" : "by ratio" })
        }
      >
        <option value="even">evenly</option>
        <option value="by ratio">by ratio</option>
      </Select>
    </Flex>
  );
}

/** How many frames of the clip at hand a sheet can have. */
const FRAMES = [1, 2, 3, 4, 6];

/** Which clips, or which frames of the clip at hand, the sheet has. */
function ShotChoice({ shots, onChange }: { shots: Shot[]; onChange: (shots: Shot[]) => void }) {
  const clips = useClips().data ?? [];
  const clip = useBench((s) => s.clip);
  const chosen = new Set(shots.map((shot) => shot.clip));
  const turn = (other: Clip) => {
    const next = clips.filter((c) => (c.id === other.id ? !chosen.has(c.id) : chosen.has(c.id)));
    if (next.length) onChange(next.map(middleOf));
  };
  return (
    <Box
      role="dialog"
      aria-label="Shots of the sheet"
      bg="paper"
      borderWidth="1px"
      borderColor="line"
      borderRadius="8px"
      boxShadow="0 6px 24px rgb(0 0 0 / 22%)"
      p="12px"
      width="280px"
    >
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
    </Box>
  );
}

/** The frame at hand of the clip on the bench; the middle of another. */
export const middleOf = (clip: Clip): Shot => ({
  clip: clip.id,
  frame: bench().clip?.id === clip.id ? bench().frame : Math.floor(clip.frames / 2),
});

/** Frames spread over a clip; one is that at hand. */
const framesOf = (clip: Clip, count: number): Shot[] =>
  count === 1
    ? [middleOf(clip)]
    : Array.from({ length: count }, (_, i) => ({
        clip: clip.id,
        frame: Math.floor(((i + 0.5) * clip.frames) / count),
      }));
