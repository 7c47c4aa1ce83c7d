import { Box, chakra, Wrap } from "@chakra-ui/react";
import { Label } from "../../ui/Label";

const Button = chakra("button");

/** What was taken out of the picture, to be brought back. */
export function RemovedMarks({
  label,
  names,
  onChange,
}: {
  label: string;
  names: string[];
  onChange: (names: string[]) => void;
}) {
  return (
    <Box gridColumn="1 / -1" role="group" aria-label={label}>
      <Box>
        <Label>{label}</Label>
      </Box>
      {names.length === 0 ? (
        <Box color="mute">None. Click one in the picture to take it out.</Box>
      ) : (
        <Wrap gap="4px" maxHeight="62px" overflowY="auto">
          {names.map((name) => (
            <Button
              key={name}
              type="button"
              border="1px solid"
              borderColor="line"
              borderRadius="3px"
              paddingX="6px"
              aria-label={`Bring back ${name}`}
              title="Bring it back"
              onClick={() => onChange(names.filter((other) => other !== name))}
            >
              {name} ↩
            </Button>
          ))}
        </Wrap>
      )}
    </Box>
  );
}
