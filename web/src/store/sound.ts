import type { Clip } from "../api/client";
import { soundAction } from "../model/playClock";
import { bench } from "./bench";
import { notice } from "./notices";

/** The sound of the clip that is played: one element of the page, kept at the picture's place. */
let element: HTMLAudioElement | null = null;
let movedAt = Number.NEGATIVE_INFINITY;

function audio(): HTMLAudioElement {
  if (element) return element;
  const made = new Audio();
  made.preservesPitch = true;
  made.hidden = true;
  made.onerror = () => {
    if (made.hasAttribute("src") && bench().playing)
      notice("picture", "The clip's sound can't be played; its pictures are played without it.");
  };
  document.body.append(made);
  element = made;
  return made;
}

/** Have the clip's sound ready; a clip may have none. It begins with the first frame shown. */
export function loadSound(clip: Clip, slow: boolean) {
  movedAt = Number.NEGATIVE_INFINITY;
  if (!clip.audio.length) {
    element?.removeAttribute("src");
    return;
  }
  const version = encodeURIComponent(JSON.stringify(clip.reading));
  const address = `/api/v1/clips/${clip.id}/sound?read=${version}`;
  const sound = audio();
  if (!sound.src.endsWith(address)) sound.src = address;
  sound.playbackRate = slow ? 0.5 : 1;
}

/** Keep the sound at a place, in seconds; where it has not come yet, play goes on without. */
export function keepSoundAt(seconds: number, now: number) {
  if (!element?.hasAttribute("src") || bench().quiet) {
    pauseSound();
    return;
  }
  const { currentTime, duration, paused, readyState, seeking } = element;
  const ready = readyState >= HTMLMediaElement.HAVE_CURRENT_DATA && !seeking;
  const action = soundAction({ currentTime, duration, paused, ready }, seconds, now - movedAt);
  if (action === "none") return;
  if (action === "pause") {
    pauseSound();
    return;
  }
  movedAt = now;
  if (action === "move") element.currentTime = seconds;
  if (element.paused) void element.play().catch(() => undefined);
}

export function pauseSound() {
  if (element && !element.paused) element.pause();
}
