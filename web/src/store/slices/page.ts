/** Where on the page a notice belongs: beside what was done. */
export type Where = "clips" | "footage" | "look" | "picture" | "render";
export interface Notice {
  id: number;
  where: Where;
  text: string;
}

export type Panel = "readings" | "footage" | "renders";

/** What of the page is shown beside the picture and over it. */
export interface PageSlice {
  panel: Panel;
  notices: Notice[];
  shortcutsShown: boolean;
}

export const initialPage: PageSlice = {
  panel: "readings",
  notices: [],
  shortcutsShown: false,
};
