import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Reel } from "../../api/client";
import { counted } from "../../model/words";
import { useArrivals } from "../../store/arrivals";
import { findMedia, useReel } from "../../store/reel";
import { Button } from "../../ui/Button";

/** What of a timeline is not as it was, and which shots wait for their media. */
export function ReelTold({ reel }: { reel: Reel }) {
  const notes = useReel((s) => s.notes);
  const come = useArrivals((s) => s.come);
  const [shown, setShown] = useState(false);
  const missing = reel.items.flatMap((item) => {
    const why = reel.missing?.[item.id];
    return item.kind === "shot" && item.clip === null && why ? [{ ...item, why }] : [];
  });
  useEffect(() => {
    if (come) void findMedia();
  }, [come]);
  if (!missing.length && !notes.length) return null;
  const words = [
    missing.length ? `${counted(missing.length, "shot")} without media` : "",
    notes.length ? counted(notes.length, "note") : "",
  ];
  return (
    <Box as="section" aria-label="Told of the timeline" bg="paper" px="14px" py="4px">
      <Flex align="center" gap="10px">
        <Box color={missing.length ? "ember" : "mute"}>
          {words.filter(Boolean).join(", ")}
          {missing.length > 0 && ": drop the files anywhere on the page; they are found by name."}
        </Box>
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
          <Button small tone="bare" type="button" onClick={() => useReel.setState({ notes: [] })}>
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
