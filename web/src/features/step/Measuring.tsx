import { Box, Flex } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { busyWith } from "../../api/busy";
import { Button } from "../../ui/Button";

interface Props {
  name: string;
  title: string;
  /** What is being done, before the percent. */
  says: string;
  disabled?: boolean;
  onMeasure: (onPart: (part: number) => void, signal: AbortSignal) => Promise<void>;
}

/** A button for what measures whole clips: it says how far it is, and can be stopped. */
export function Measuring({ name, title, says, disabled, onMeasure }: Props) {
  const [part, setPart] = useState<number | null>(null);
  const giveUp = useRef(new AbortController());
  const measure = async () => {
    giveUp.current = new AbortController();
    setPart(0);
    await onMeasure(setPart, giveUp.current.signal);
    setPart(null);
  };
  return (
    <Flex align="center" gap="8px" height="30px">
      {part === null ? (
        <Button
          small
          type="button"
          title={title}
          disabled={disabled}
          onClick={() => void busyWith(measure())}
        >
          {name}
        </Button>
      ) : (
        <>
          <Button small type="button" onClick={() => giveUp.current.abort()}>
            Stop
          </Button>
          <Box color="mute" fontSize="12px" role="status">
            {says}: {Math.round(100 * part)} %
          </Box>
        </>
      )}
    </Flex>
  );
}
