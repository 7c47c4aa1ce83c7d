import type { Clip } from "../api/client";
import { soundAction } from "../model/playClock";
import { bench } from "./bench";
import { notice } from "./notices";

/** The sound of what is played: elements of the page, each kept at its place beside the picture. */

/** Something that sounds. */
export interface Sounding {
  address: string;
  /** Where it is, in seconds of its own. */
  seconds: number;
  /** What it is multiplied with, at the most 1. */
  gain: number;
  /** At half speed, its pitch kept. */
  slow: boolean;
}

/** Elements that are kept: of what sounds, and of what comes next in a reel. */
const MOST = 8;

interface Element {
  audio: HTMLAudioElement;
  movedAt: number;
  sounding: boolean;
}

/** By their addresses, those asked for last behind. */
const elements = new Map<string, Element>();

function elementOf(address: string): Element {
  const known = elements.get(address);
  if (known) {
    elements.delete(address);
    elements.set(address, known);
    return known;
  }
  const made = { audio: new Audio(), movedAt: Number.NEGATIVE_INFINITY, sounding: false };
  const { audio } = made;
  audio.preservesPitch = true;
  audio.preload = "auto";
  audio.hidden = true;
  audio.onerror = () => {
    if (made.sounding)
      notice("picture", "A sound can't be played; the pictures are played without it.");
  };
  audio.src = address;
  document.body.append(audio);
  elements.set(address, made);
  for (const [old, oldest] of elements) {
    if (elements.size <= MOST) break;
    oldest.audio.pause();
    oldest.audio.remove();
    elements.delete(old);
  }
  return made;
}

/** The address of a clip's sound; none where it has none. */
export const clipSound = (clip: Clip): string | null =>
  clip.audio.length
    ? `/api/v1/clips/${clip.id}/sound?read=${encodeURIComponent(JSON.stringify(clip.reading))}`
    : null;

/** The address of a file of sound of the project. */
export const fileSound = (file: string) => `/api/v1/sounds/${encodeURIComponent(file)}/play`;

/** Have a sound on its way, to be there when it begins. */
export const expectSound = (address: string) => void elementOf(address);

/** Keep sounds at their places; others pause. What has not come yet is played without. */
export function keepSounds(wanted: Sounding[], now: number) {
  if (bench().quiet) return pauseSounds();
  const addresses = new Set(wanted.map(({ address }) => address));
  for (const [address, element] of elements) if (!addresses.has(address)) pause(element);
  for (const each of wanted) keepAt(elementOf(each.address), each, now);
}

function keepAt(element: Element, { seconds, gain, slow }: Sounding, now: number) {
  const { audio } = element;
  element.sounding = true;
  audio.playbackRate = slow ? 0.5 : 1;
  audio.volume = gain;
  const { currentTime, duration, paused, readyState, seeking } = audio;
  const ready = readyState >= HTMLMediaElement.HAVE_CURRENT_DATA && !seeking;
  const action = soundAction(
    { currentTime, duration, paused, ready },
    seconds,
    now - element.movedAt,
  );
  if (action === "none") return;
  if (action === "pause") return pause(element);
  element.movedAt = now;
  if (action === "move") audio.currentTime = seconds;
  if (audio.paused) void audio.play().catch(() => undefined);
}

function pause(element: Element) {
  element.sounding = false;
  element.movedAt = Number.NEGATIVE_INFINITY;
  if (!element.audio.paused) element.audio.pause();
}

export function pauseSounds() {
  for (const element of elements.values()) pause(element);
}
