import { bench, setState } from "./bench";

/** Have the picture alone, or everything else back. */
export function toggleAlone() {
  if (bench().alone) leaveAlone();
  else setState({ alone: true, shortcutsShown: false });
}

export function leaveAlone() {
  if (document.fullscreenElement) void document.exitFullscreen();
  setState({ alone: false });
}
