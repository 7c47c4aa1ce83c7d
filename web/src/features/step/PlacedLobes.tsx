import { Box, Flex } from "@chakra-ui/react";
import { X } from "lucide-react";
import type { PlacedLobe } from "../../api/client";
import { Button } from "../../ui/Button";
import { Label } from "../../ui/Label";
import { NumberField } from "../../ui/NumberField";

const MOST = 24;

/** Where the first lobe comes in, and how much further along the next ones. */
const FIRST: PlacedLobe = {
  from_edge: "left",
  position: 0.4,
  reach: 0.45,
  width: 0.3,
  light: 1,
};
const FURTHER = 0.2;

const FIELDS = [
  { name: "width", word: "wide", minimum: 1, maximum: 400 },
  { name: "light", word: "light", minimum: 0, maximum: 400 },
] as const;

/** Lobes placed one by one: how wide and how strong each is, and away with it. */
export function PlacedLobes({
  label,
  lobes,
  onChange,
}: {
  label: string;
  lobes: PlacedLobe[];
  onChange: (lobes: PlacedLobe[], done: boolean) => void;
}) {
  const last = lobes[lobes.length - 1];
  const next = last ? { ...last, position: (last.position + FURTHER) % 1 } : FIRST;
  return (
    <Box role="group" aria-label={label}>
      <Flex align="center" justify="space-between">
        <Label>{label}</Label>
        <Button
          small
          type="button"
          height="24px"
          px="7px"
          disabled={lobes.length >= MOST}
          title="Another, a little further along; drag its foot around the frame"
          onClick={() => onChange([...lobes, next], true)}
        >
          Add a lobe
        </Button>
      </Flex>
      {lobes.length === 0 ? (
        <Box color="mute" fontSize="12px">
          None yet: no light comes in.
        </Box>
      ) : (
        <Box maxHeight="82px" overflowY="auto">
          {lobes.map((lobe, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lobes are told apart by their order
            <Flex key={i} align="center" gap="5px" height="26px">
              <Box flex="1" whiteSpace="nowrap">
                {i + 1}
              </Box>
              {FIELDS.map(({ name, word, minimum, maximum }) => (
                <Flex key={name} align="center" gap="4px">
                  <Box color="mute" fontSize="12px">
                    {word}
                  </Box>
                  <NumberField
                    label={`Lobe ${i + 1}: ${word}, in %`}
                    value={Math.round(100 * lobe[name])}
                    minimum={minimum}
                    maximum={maximum}
                    onEnter={(given) =>
                      onChange(lobes.with(i, { ...lobe, [name]: given / 100 }), true)
                    }
                  />
                </Flex>
              ))}
              <Box>%</Box>
              <Button
                small
                tone="bare"
                type="button"
                aria-label={`Remove lobe ${i + 1}`}
                title="Remove it"
                onClick={() => onChange(lobes.toSpliced(i, 1), true)}
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
