import { Box } from "@chakra-ui/react";
import { useArriving } from "../store/importFiles";

/** Files on their way in. */
export function Arriving() {
  const arriving = useArriving((s) => s.arriving);
  if (!arriving.length) return null;
  return (
    <Box
      position="absolute"
      left="124px"
      bottom="12px"
      bg="paper"
      color="ink"
      borderRadius="6px"
      p="10px"
      zIndex="6"
      minW="260px"
      role="status"
    >
      {arriving.map(({ name, part }) => (
        <Box key={name}>
          {part < 1
            ? `Bringing in ${name}: ${Math.round(part * 100)} %`
            : `Looking through ${name}`}
          <Box height="4px" bg="line" borderRadius="2px" mt="4px">
            <Box height="100%" bg="tide" borderRadius="2px" style={{ width: `${part * 100}%` }} />
          </Box>
        </Box>
      ))}
    </Box>
  );
}
