import { bench, setState, useBench } from "./bench";
import type { Panel } from "./slices/page";

/** The panel beside the picture is the one that was open last, from one visit to the next. */
const KEY = "panel";

export function startPanel() {
  setState({ panel: (localStorage.getItem(KEY) as Panel | null) ?? bench().panel });
  useBench.subscribe(({ panel }) => localStorage.setItem(KEY, panel));
}
