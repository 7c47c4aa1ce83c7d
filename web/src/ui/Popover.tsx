import { chakra } from "@chakra-ui/react";

/** A small sheet of paper that lies on the page beside what opened it. */
export const Popover = chakra("div", {
  base: {
    bg: "paper",
    borderWidth: "1px",
    borderColor: "line",
    borderRadius: "8px",
    boxShadow: "0 6px 24px rgb(0 0 0 / 22%)",
    p: "12px",
  },
});
