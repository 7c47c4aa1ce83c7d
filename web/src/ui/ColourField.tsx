import { Box, chakra, Flex } from "@chakra-ui/react";
import { Pipette } from "lucide-react";
import { useState } from "react";
import { Button } from "./Button";
import { Label } from "./Label";

const Entry = chakra("input");
const HEX = /^#?([0-9a-f]{6})$/i;

interface Props {
  label: string;
  help?: string;
  value: string;
  onMove: (value: string, done: boolean) => void;
  /** Picks the colour from the picture. */
  onPick?: () => void;
}

/** A colour: from the system's own chooser, typed as #rrggbb, or picked from the picture. */
export function ColourField({ label, help, value, onMove, onPick }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && !HEX.test(typed.trim());
  const commit = () => {
    const hex = typed?.trim().match(HEX)?.[1];
    if (hex) onMove(`#${hex.toLowerCase()}`, true);
    setTyped(null);
  };
  return (
    <Flex align="center" gap="8px" height="25px" title={help}>
      <Box flex="1" minW="0" whiteSpace="nowrap" overflow="hidden" textOverflow="ellipsis">
        <Label>{label}</Label>
      </Box>
      {onPick && (
        <Button
          small
          tone="bare"
          type="button"
          aria-label={`Pick ${label.toLowerCase()}`}
          title="Pick it from the picture"
          onClick={onPick}
        >
          <Pipette size={14} />
        </Button>
      )}
      <Entry
        type="color"
        aria-label={label}
        value={value}
        width="34px"
        height="20px"
        p="0"
        borderWidth="1px"
        borderColor="line"
        borderRadius="4px"
        cursor="pointer"
        bg="sheet"
        onChange={(event) => onMove(event.target.value, false)}
        onBlur={(event) => onMove(event.target.value, true)}
      />
      <Entry
        aria-label={`${label}, as #rrggbb`}
        aria-invalid={wrong}
        width="66px"
        bg="transparent"
        color={wrong ? "ember" : "ink"}
        borderBottomWidth="1px"
        borderColor={wrong ? "ember" : "transparent"}
        _hover={{ borderColor: "line" }}
        value={typed ?? value}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => event.key === "Enter" && commit()}
      />
    </Flex>
  );
}
