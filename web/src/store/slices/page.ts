/** Where on the page a notice belongs: beside what was done. */
export type Where = "clips" | "footage" | "look" | "picture" | "reel" | "render";
export interface Notice {
  id: number;
  where: Where;
  text: string;
}

export type Panel = "readings" | "footage" | "renders" | "manual";

/** What of the page is shown beside the picture and over it. */
export interface PageSlice {
  panel: Panel;
  notices: Notice[];
  shortcutsShown: boolean;
  /** The server does not answer; nothing can be made or kept meanwhile. */
  gone: boolean;
  /** The sheet of looks is open. */
  looksShown: boolean;
  /** Nothing but the picture is shown. */
  alone: boolean;
  /** The sheet of treatments is open. */
  adding: boolean;
  /** The starter look that is built step by step, and the look that it is built in. */
  walk: { starter: string; look: number | null } | null;
  /** How high the path is with a step open, and how wide what stands beside the picture, in CSS
   * pixels; null is what they are by themselves. */
  pathHeight: number | null;
  sideWidth: number | null;
}

export const initialPage: PageSlice = {
  panel: "readings",
  notices: [],
  shortcutsShown: false,
  gone: false,
  looksShown: false,
  alone: false,
  adding: false,
  walk: null,
  pathHeight: null,
  sideWidth: null,
};
