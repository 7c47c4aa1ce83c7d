import { Box, chakra, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Reel } from "../../api/client";
import { countWords } from "../../model/words";
import { useArrivals } from "../../store/arrivals";
import { findMedia, readListAt, useReel } from "../../store/reel";
import { Button } from "../../ui/Button";

/** What of a timeline is not as it was, and which shots wait for their media. */
export function ReelTold({ reel }: { reel: Reel }) {
  const notes = useReel((s) => s.notes);
  const unchanged = useReel((s) => s.list?.reel === reel.id && s.list.revision === reel.revision);
  const come = useArrivals((s) => s.come);
  const [shown, setShown] = useState(false);
  const missing = reel.items.flatMap((item) => {
    const why = reel.missing?.[item.id];
    return item.kind === "shot" && item.clip === null && why ? [{ ...item, why }] : [];
  });
  useEffect(() => {
    if (come) void findMedia();
  }, [come]);
  if (!missing.length && !notes.length && !unchanged) return null;
  const words = [
    missing.length ? `${countWords(missing.length, "shot")} without media` : "",
    notes.length ? countWords(notes.length, "note") : unchanged ? "Read from an edit list" : "",
  ];
  return (
    <Box as="section" aria-label="Told of the timeline" bg="paper" px="14px" py="4px">
      <Flex align="center" gap="10px">
        <Box color={missing.length ? "ember" : "mute"}>
          {words.filter(Boolean).join(", ")}
          {missing.length > 0 && ": drop the files anywhere on the page; they are found by name."}
        </Box>
        {unchanged && <RateOfList reel={reel} />}
        <Button
          small
          tone="bare"
          type="button"
          aria-expanded={shown}
          onClick={() => setShown(!shown)}
        >
          {shown ? "Less" : "Which"}
        </Button>
        {!missing.length && (
          <Button
            small
            tone="bare"
            type="button"
            onClick={() => useReel.setState({ notes: [], list: null })}
          >
            I have read this
          </Button>
        )}
      </Flex>
      {shown && (
        <Box as="ul" maxH="120px" overflowY="auto" pl="16px" fontSize="12px">
          {missing.map(({ id, name, why }) => (
            <li key={id}>
              {name}: {why}
            </li>
          ))}
          {notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </Box>
      )}
    </Box>
  );
}

const Select = chakra("select");

/** Frames a second that edit lists are made at (common practice, no source). */
const RATES = [23.976, 24, 25, 29.97, 30, 48, 50, 59.94, 60];

/** The rate that an edit list was read at, to be read anew at another. */
function RateOfList({ reel }: { reel: Reel }) {
  const rate = reel.rate.numerator / reel.rate.denominator;
  const now = RATES.find((each) => Math.abs(each - rate) < 0.01);
  return (
    <Flex as="label" align="center" gap="6px">
      Frames a second
      <Select
        value={now ?? ""}
        height="24px"
        px="6px"
        bg="sheet"
        borderWidth="1px"
        borderColor="line"
        borderRadius="6px"
        fontSize="12px"
        onChange={({ target }) => void readListAt(Number(target.value))}
      >
        {now === undefined && <option value="">{Number(rate.toFixed(3))}</option>}
        {RATES.map((each) => (
          <option key={each} value={each}>
            {each}
          </option>
        ))}
      </Select>
    </Flex>
  );
}
