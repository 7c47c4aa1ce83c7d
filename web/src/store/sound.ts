import type { Clip } from "../api/client";
import { soundAction } from "../model/playClock";
import { bench } from "./bench";
import { notice } from "./notices";

/** The sound of what is played: elements of the page, each a clip's, kept at the picture's place. */

/** Elements that are kept: of the clip that sounds, and of those that come next in a reel. */
const MOST = 3;

const elements = new Map<string, HTMLAudioElement>();
let element: HTMLAudioElement | null = null;
let movedAt = Number.NEGATIVE_INFINITY;

function elementOf(address: string): HTMLAudioElement {
  const known = elements.get(address);
  if (known) {
    elements.delete(address);
    elements.set(address, known);
    return known;
  }
  const made = new Audio();
  made.preservesPitch = true;
  made.preload = "auto";
  made.hidden = true;
  made.onerror = () => {
    if (made === element)
      notice("picture", "The clip's sound can't be played; its pictures are played without it.");
  };
  made.src = address;
  document.body.append(made);
  elements.set(address, made);
  for (const [old, oldest] of elements) {
    if (elements.size <= MOST) break;
    oldest.pause();
    oldest.remove();
    elements.delete(old);
  }
  return made;
}

const addressOf = (clip: Clip) =>
  `/api/v1/clips/${clip.id}/sound?read=${encodeURIComponent(JSON.stringify(clip.reading))}`;

/** Have a clip's sound on its way, to be there when its shot begins. */
export function expectSound(clip: Clip) {
  if (clip.audio.length) elementOf(addressOf(clip));
}

/** Have the clip's sound ready; none where it has none. It begins with the first frame shown. */
export function loadSound(clip: Clip | null, slow: boolean) {
  movedAt = Number.NEGATIVE_INFINITY;
  const next = clip?.audio.length ? elementOf(addressOf(clip)) : null;
  if (element !== next) pauseSound();
  element = next;
  if (element) element.playbackRate = slow ? 0.5 : 1;
}

/** Keep the sound at a place, in seconds; where it has not come yet, play goes on without. */
export function keepSoundAt(seconds: number, now: number) {
  if (!element || bench().quiet) {
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
