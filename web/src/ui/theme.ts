import { createSystem, defaultBaseConfig, defineConfig } from "@chakra-ui/react";

const read = "'Atkinson Hyperlegible', sans-serif";
const felt = "'Fraunces', serif";

const pair = (light: string, dim: string) => ({ value: { base: light, _dark: dim } });

/** Paper and ink around a neutral grey wall; nothing near the picture is coloured.
 *
 * The library's own theme is left out: hundreds of tokens and the recipes of components that
 * nothing here uses, which take a fifth of a second to set up each time the page is opened.
 */
const config = defineConfig({
  preflight: true,
  theme: {
    breakpoints: { xl: "1280px" },
    tokens: { fonts: { body: { value: read }, heading: { value: felt }, felt: { value: felt } } },
    semanticTokens: {
      colors: {
        wall: pair("#5b5b5b", "#2a2a2a"),
        wallDeep: pair("#454545", "#1d1d1d"),
        wallKey: pair("#4a4a4a", "#363636"),
        wallInk: pair("#f4f4f4", "#e6e6e6"),
        wallMute: pair("#d6d6d6", "#b4b4b4"),
        wallOn: pair("#efeeec", "#cfcfcf"),
        wallOnInk: pair("#262524", "#141414"),
        desk: pair("#d9d8d6", "#161616"),
        paper: pair("#efeeec", "#202020"),
        sheet: pair("#ffffff", "#2b2b2b"),
        line: pair("#bdbcb9", "#474747"),
        ink: pair("#262524", "#ececec"),
        mute: pair("#5f5d5a", "#acacac"),
        ember: pair("#b8432f", "#dd6a55"),
        emberInk: pair("#ffffff", "#141414"),
        tide: pair("#1f6f78", "#56b3bd"),
        wave: pair("rgb(0 0 0 / 34%)", "rgb(255 255 255 / 46%)"),
        chosen: pair("#262524", "#ececec"),
        chosenInk: pair("#ffffff", "#141414"),
      },
    },
  },
  globalCss: {
    "html, body, #root": { height: "100%", margin: 0 },
    body: {
      fontFamily: read,
      fontSize: "13px",
      lineHeight: 1.35,
      bg: "desk",
      color: "ink",
      fontVariantNumeric: "tabular-nums",
      overflow: "hidden",
    },
    "*": {
      "--global-font-body": "fonts.body",
      "--global-color-border": "colors.line",
      _motionReduce: { transition: "none !important", animation: "none !important" },
    },
    "*::placeholder": { color: "mute" },
    "*::selection": { bg: "line" },
    "*:focus-visible": { outline: "2px solid", outlineColor: "tide", outlineOffset: "2px" },
    ".on-wall *:focus-visible": { outlineColor: "wallInk" },
  },
});

export const system = createSystem(defaultBaseConfig, config);
