import { Box } from "@chakra-ui/react";

/** The heading of a stage along the path. */
export function Stage({ children }: { children: string }) {
  return (
    <Box fontFamily="felt" fontStyle="italic" color="mute" lineHeight="1.3" whiteSpace="nowrap">
      {children}
    </Box>
  );
}
