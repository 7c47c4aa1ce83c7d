import { Flex } from "@chakra-ui/react";
import { Button } from "./Button";

/** Says that something is deleted, and brings it back. */
export function DeletedRow({ name, onRestore }: { name: string; onRestore: () => void }) {
  return (
    <Flex align="center" justify="space-between" fontSize="12px" mt="4px">
      {name} is deleted.
      <Button small type="button" onClick={onRestore}>
        Bring it back
      </Button>
    </Flex>
  );
}
