import { Box, Flex } from "@chakra-ui/react";
import { useRef } from "react";
import type { Reel } from "../../api/client";
import { useBench } from "../../store/bench";
import { newReel } from "../../store/reel";
import { Button } from "../../ui/Button";
import { TimelineInput } from "./TimelineInput";

/** Where there is no reel yet, or nothing in it: what to do next. */
export function Nothing({ reel }: { reel: Reel | null }) {
  const clip = useBench((s) => s.clip);
  const readOnly = useBench((s) => s.readOnly);
  const picker = useRef<HTMLInputElement>(null);
  return (
    <Flex
      className="on-wall"
      direction="column"
      align="center"
      justify="center"
      gap="12px"
      flex="1"
      bg="wall"
      color="wallInk"
    >
      <Box fontFamily="felt" fontStyle="italic" fontSize="22px">
        {reel ? "Nothing in this reel yet" : "No reel yet"}
      </Box>
      <Box maxW="52ch" textAlign="center">
        {reel
          ? "Drag clips from below into it, or press their +. Cut them where the play head is, and drag their ends."
          : "A reel is a cut: shots of several clips in their order, each with its look. Begin one by hand, or read the timeline that an editor wrote."}
      </Box>
      {!reel && (
        <Flex gap="8px">
          <Button type="button" tone="main" disabled={readOnly} onClick={() => void newReel(clip)}>
            Begin a reel
          </Button>
          <Button
            type="button"
            tone="wall"
            disabled={readOnly}
            onClick={() => picker.current?.click()}
          >
            Read a timeline…
          </Button>
        </Flex>
      )}
      <TimelineInput ref={picker} label="Timeline to read" />
    </Flex>
  );
}
