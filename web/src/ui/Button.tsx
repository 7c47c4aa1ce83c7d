import { chakra } from "@chakra-ui/react";

/** A button of the product's own: paper, or the one warm action, or on the wall. */
export const Button = chakra("button", {
  base: {
    display: "inline-flex",
    alignItems: "center",
    justifyContent: "center",
    gap: "6px",
    height: "30px",
    px: "12px",
    borderRadius: "6px",
    borderWidth: "1px",
    fontSize: "13px",
    cursor: "pointer",
    whiteSpace: "nowrap",
    _disabled: { opacity: 0.45, cursor: "default" },
  },
  variants: {
    tone: {
      paper: { bg: "sheet", borderColor: "line", color: "ink", _hover: { borderColor: "mute" } },
      main: { bg: "ember", borderColor: "ember", color: "emberInk", fontWeight: 700 },
      wall: {
        bg: "wallKey",
        borderColor: "transparent",
        color: "wallInk",
        _hover: { borderColor: "wallMute" },
      },
      wallOn: { bg: "wallOn", borderColor: "wallOn", color: "wallOnInk" },
      here: { bg: "chosen", borderColor: "chosen", color: "chosenInk" },
      bare: {
        bg: "transparent",
        borderColor: "transparent",
        color: "ink",
        px: "6px",
        _hover: { borderColor: "line" },
      },
    },
    small: { true: { height: "26px", px: "9px", fontSize: "12px" } },
  },
  defaultVariants: { tone: "paper" },
});
