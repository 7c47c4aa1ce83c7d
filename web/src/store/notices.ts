import { bench, setState } from "./bench";
import type { Where } from "./slices/page";

let last = 0;

/** Show a message that stays until it is dismissed, in the panel it belongs to. */
export function notice(where: Where, error: unknown) {
  const text = error instanceof Error ? error.message : String(error);
  if (bench().notices.some((n) => n.text === text && n.where === where)) return;
  last += 1;
  if (where === "render" || where === "footage")
    setState({ panel: where === "render" ? "renders" : "footage" });
  setState({ notices: [...bench().notices, { id: last, where, text }] });
}

export function dismiss(id: number) {
  setState({ notices: bench().notices.filter((n) => n.id !== id) });
}
