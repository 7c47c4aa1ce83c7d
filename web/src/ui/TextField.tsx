import { chakra } from "@chakra-ui/react";

/** A line of words that is typed. */
export const TextField = chakra("input", {
  base: {
    height: "30px",
    minW: "0",
    px: "8px",
    bg: "sheet",
    borderWidth: "1px",
    borderColor: "line",
    borderRadius: "5px",
  },
});
