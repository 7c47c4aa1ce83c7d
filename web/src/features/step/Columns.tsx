import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** Controls in as many columns as there is room for, as even as can be. */
export function Columns({ children, width = 273 }: { children: ReactNode; width?: number }) {
  return (
    <Box
      flex="1"
      minW="0"
      css={{ columnWidth: `${width}px`, columnGap: "20px", "& > *": { breakInside: "avoid" } }}
      pl="13px"
    >
      {children}
    </Box>
  );
}
