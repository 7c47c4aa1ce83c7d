import { Box, Flex } from "@chakra-ui/react";
import { X } from "lucide-react";
import type { PlacedBlock } from "../../api/client";
import { Button } from "../../ui/Button";
import { Label } from "../../ui/Label";
import { NumberField } from "../../ui/NumberField";

const MIDDLE: PlacedBlock = { left: 0.4, top: 0.45, width: 0.2, height: 0.1, throw: 120 };

/** Blocks drawn on the picture: how far each is thrown, and away with it. */
export function PlacedBlocks({
  label,
  blocks,
  onChange,
}: {
  label: string;
  blocks: PlacedBlock[];
  onChange: (blocks: PlacedBlock[], done: boolean) => void;
}) {
  return (
    <Box role="group" aria-label={label}>
      <Flex align="center" justify="space-between">
        <Label>{label}</Label>
        <Button
          small
          type="button"
          height="24px"
          px="7px"
          title="A block in the middle, to be moved and made larger there"
          onClick={() => onChange([...blocks, MIDDLE], true)}
        >
          Add a block
        </Button>
      </Flex>
      {blocks.length === 0 ? (
        <Box color="mute" fontSize="12px">
          None. Or drag on the picture to draw one.
        </Box>
      ) : (
        <Box maxHeight="56px" overflowY="auto">
          {blocks.map((block, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: blocks are told apart by their order
            <Flex key={i} align="center" gap="6px" height="26px">
              <Box flex="1">Block {i + 1} thrown</Box>
              <NumberField
                label={`Throw of block ${i + 1}`}
                value={Math.round(block.throw)}
                minimum={-4000}
                maximum={4000}
                onEnter={(by) => onChange(blocks.with(i, { ...block, throw: by }), true)}
              />
              <Box>px</Box>
              <Button
                small
                tone="bare"
                type="button"
                aria-label={`Remove block ${i + 1}`}
                title="Remove it"
                onClick={() => onChange(blocks.toSpliced(i, 1), true)}
              >
                <X size={13} />
              </Button>
            </Flex>
          ))}
        </Box>
      )}
    </Box>
  );
}
