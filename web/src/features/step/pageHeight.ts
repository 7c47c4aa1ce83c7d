import { usePathHeight } from "../path/pathHeight";

/** What the path and the open step take of its height beside the page: margins, edges, the head. */
const TAKEN = 56;

/** How high an open step's page is, in CSS pixels. */
export const usePageHeight = () => usePathHeight() - TAKEN;
