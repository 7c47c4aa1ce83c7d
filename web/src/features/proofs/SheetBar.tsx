import { Box, chakra, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import type { EvenSubject, LookState, MatchSubject, Sheet, TriedValues } from "../../api/client";
import { MOST } from "../../model/proofs";
import { formatFixed } from "../../model/words";
import { useBench } from "../../store/bench";
import {
  acrossChoices,
  closeSheet,
  openSheet,
  proofControl,
  setSheet,
  tryAcross,
} from "../../store/proofs";
import { Button } from "../../ui/Button";
import { useClickOutside } from "../../ui/useClickOutside";
import { KeptSheets } from "./KeptSheets";
import { ShotChoice } from "./ShotChoice";
import { SpanFields } from "./SpanFields";
import { subjectWords } from "./variants";

const Select = chakra("select");

interface Props {
  sheet: Sheet;
  looks: LookState[];
  /** Save the sheet as a file; null where it has no pictures. */
  onSave: ((file: "png" | "pdf") => void) | null;
  /** Play all cells in step; not offered where rows have that. */
  playing: boolean;
  onPlay?: () => void;
}

/** What the sheet tries, and on which shots. */
export function SheetBar({ sheet, looks, onSave, playing, onPlay }: Props) {
  const look = useBench((s) => s.look);
  const name = useBench((s) => s.shared?.name ?? "");
  const { subject, shots } = sheet;
  const [shown, setShown] = useState<"shots" | "kept" | null>(null);
  const aside = useRef<HTMLDivElement>(null);
  useClickOutside(aside, shown !== null, () => setShown(null));
  const rows = rowsOf(sheet);
  const title = subjectWords(subject, look);
  return (
    <Flex
      align="center"
      gap="8px 10px"
      px="16px"
      py="6px"
      minH="44px"
      flex="none"
      bg="desk"
      wrap="wrap"
      position="relative"
    >
      <Button small type="button" title="What else can be tried" onClick={closeSheet}>
        ‹ Sheets
      </Button>
      <Box as="h2" fontFamily="felt" fontStyle="italic" fontWeight="600" fontSize="19px">
        {title}
      </Box>
      {rows && <Box color="mute">of {name}</Box>}
      {subject.kind === "match" && <Nearness match={subject} />}
      {subject.kind === "even" && <Box color="mute">{EFFECTS[subject.effect](subject.wanted)}</Box>}
      <Box flex="1" />
      {rows && <Spans sheet={sheet} rows={rows} />}
      {rows && subject.kind !== "pair" && (
        <>
          <Button small type="button" onClick={() => proofControl(rows.step, "mix.blend")}>
            All blend modes
          </Button>
          <Button small type="button" onClick={() => proofControl(rows.step, "mix.amount")}>
            Amounts
          </Button>
        </>
      )}
      {subject.kind !== "looks" &&
        subject.kind !== "pair" &&
        subject.kind !== "match" &&
        subject.kind !== "even" &&
        looks.length > 1 && (
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
      {onPlay && (
        <Button
          small
          type="button"
          tone={playing ? "here" : "paper"}
          aria-pressed={playing}
          title="Two seconds of every picture, in step"
          onClick={onPlay}
        >
          {playing ? "Stop" : "Play"}
        </Button>
      )}
      <Flex ref={aside} gap="10px" onKeyDown={(e) => e.key === "Escape" && setShown(null)}>
        {subject.kind !== "pair" && (
          <Opener
            name="Change shots…"
            open={shown === "shots"}
            turn={(o) => setShown(o ? "shots" : null)}
          />
        )}
        <Opener
          name="Keep or save…"
          open={shown === "kept"}
          turn={(o) => setShown(o ? "kept" : null)}
        />
        {shown && (
          <Box position="absolute" right="16px" top="100%" zIndex="8">
            {shown === "shots" ? (
              <ShotChoice shots={shots} onChange={(next) => setSheet({ ...sheet, shots: next })} />
            ) : (
              <KeptSheets sheet={sheet} title={title} onSave={onSave} />
            )}
          </Box>
        )}
      </Flex>
    </Flex>
  );
}

/** What a step does on each clip, in words. */
const EFFECTS: Record<EvenSubject["effect"], (much: number) => string> = {
  light: (much) => `adds light of ${formatFixed(100 * much, 2)} % of white, root mean square`,
  "mid-tones": (much) => `moves the mid-tones by ${formatFixed(100 * much, 1)} % of white`,
  edges: (much) => `takes ${formatFixed(100 * much, 1)} % of the light`,
  grain: (much) => `grain ${formatFixed(much, 1)} times the footage's own noise`,
};

/** How near a grade brings a clip, and how far what is held moves for it. */
function Nearness({ match }: { match: MatchSubject }) {
  const percent = (part: number) => `${formatFixed(100 * part, 1)} %`;
  const held = (match.held ?? []).map(({ kind, share, off }) =>
    share ? `${kind} ${percent(off)} off` : `no ${kind} in it`,
  );
  return (
    <Box
      color="mute"
      title="Root mean square of a channel, in parts of white, that the least move from the clip's colours to the picture's takes"
    >
      {[
        `${percent(match.distance)} of white away, ${percent(match.remains)} with all of it`,
        ...held,
      ].join(" · ")}
    </Box>
  );
}

interface OpenerProps {
  name: string;
  open: boolean;
  turn: (open: boolean) => void;
}

function Opener({ name, open, turn }: OpenerProps) {
  return (
    <Button
      small
      type="button"
      tone={open ? "here" : "paper"}
      aria-expanded={open}
      onClick={() => turn(!open)}
    >
      {name}
    </Button>
  );
}

/** The values that are tried row by row, of a sheet of values. */
function rowsOf({ subject }: Sheet): TriedValues | null {
  if (subject.kind === "pair") return subject.rows;
  return subject.kind === "span" || subject.kind === "choices" ? subject : null;
}

/** From where to where values go, and what is tried across them. */
function Spans({ sheet, rows }: { sheet: Sheet; rows: TriedValues }) {
  const { subject } = sheet;
  const columns = subject.kind === "pair" ? subject.columns : null;
  const choices = acrossChoices(rows);
  const fields = (
    values: TriedValues,
    of: string | undefined,
    change: (next: TriedValues) => void,
  ) =>
    values.kind === "span" && (
      <SpanFields
        span={values.span}
        step={values.step}
        name={values.name}
        of={of}
        onChange={(span) => change({ ...values, span })}
      />
    );
  const setRows = (next: TriedValues) =>
    setSheet({ ...sheet, subject: columns ? { kind: "pair", rows: next, columns } : next });
  return (
    <>
      {fields(rows, undefined, setRows)}
      {choices.length > 0 && (
        <Flex align="center" gap="5px">
          across
          <Select
            aria-label="Across the sheet"
            value={columns?.name ?? ""}
            height="26px"
            maxW="130px"
            bg="sheet"
            borderWidth="1px"
            borderColor="line"
            borderRadius="5px"
            fontSize="12px"
            onChange={(event) => tryAcross(rows, event.target.value || null)}
          >
            <option value="">shots</option>
            {choices.map(([name, label]) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </Select>
        </Flex>
      )}
      {columns &&
        fields(columns, "Across", (next) =>
          setSheet({ ...sheet, subject: { kind: "pair", rows, columns: next } }),
        )}
    </>
  );
}
