import { Flex } from "@chakra-ui/react";
import { Trash2 } from "lucide-react";
import type { ComponentProps } from "react";
import { Button } from "./Button";

interface ListRowProps extends ComponentProps<typeof Button> {
  /** What the button at its end does, in words. */
  removal: string;
  removalHint?: string;
  onRemove: () => void;
}

/** A row of a list: opened by a click on it, taken off the list by the button at its end. */
export function ListRow({ removal, removalHint, onRemove, ...row }: ListRowProps) {
  return (
    <Flex as="li" align="center">
      <Button tone="bare" type="button" flex="1" minW="0" justifyContent="flex-start" {...row} />
      <Button
        tone="bare"
        small
        type="button"
        aria-label={removal}
        title={removalHint}
        onClick={onRemove}
      >
        <Trash2 size={14} />
      </Button>
    </Flex>
  );
}
