import { chakra } from "@chakra-ui/react";

/** A frame of a lane, as a dot that leads there. */
export const FrameDot = chakra("button", {
  base: {
    position: "absolute",
    top: "1px",
    width: "12px",
    height: "12px",
    ml: "-6px",
    borderRadius: "50%",
    borderWidth: "2px",
    borderColor: "sheet",
    bg: "tide",
    cursor: "pointer",
  },
});
