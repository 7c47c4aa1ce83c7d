import type { PlayRequest, ReelPlayRequest } from "../api/client";
import { bench, setState, useBench } from "./bench";
import { isDrawing, useLifting } from "./lifting";
import { usePlace } from "./places";
import { expectClipSound } from "./player";
import { playRequest, playSocket } from "./playRequest";
import { reelState, useReel } from "./reel";
import { expectReelSounds, reelPlayRequest } from "./reelPlayer";
import { useTracking } from "./tracks";

/** While nothing else is done, frames and sound from the play head on are made, so that Play finds
 * them. */

/** Milliseconds after which a page at rest has frames made. */
const REST_MS = 1500;

let socket: WebSocket | null = null;
let resting: ReturnType<typeof setTimeout> | undefined;
let made = "";
/** What frames are made of, wherever the play head is. */
let content = "";

/** From now on, have frames made ahead whenever the page is at rest. */
export function watchAhead() {
  useBench.subscribe(restart);
  useReel.subscribe(restart);
  usePlace.subscribe(restart);
  useTracking.subscribe(restart);
  useLifting.subscribe(restart);
  document.addEventListener("visibilitychange", restart);
}

/** What is played in this place, unless it plays already or a control moves, with all that frames
 * are told apart by besides; empty where nothing is to be made. */
function framesWanted(): string {
  const tracking = useTracking.getState().finding?.running;
  const lifting = isDrawing() || useLifting.getState().finding?.running;
  if (bench().adding || bench().starters || tracking || lifting || document.hidden) return "";
  const { place } = usePlace.getState();
  const found = place === "bench" ? wantedOfClip() : place === "reel" ? wantedOfReel() : null;
  return found ? JSON.stringify(found) : "";
}

function wantedOfClip() {
  const { playing, moving, clip } = bench();
  const ask = playing || moving ? null : playRequest();
  return ask && { ask, of: clip?.reading };
}

function wantedOfReel() {
  const { playing, reel, kept, madeWith } = reelState();
  const ask = playing || reel !== kept ? null : reelPlayRequest();
  return ask && { ask, of: [kept?.revision, madeWith] };
}

function restart() {
  const now = framesWanted();
  if (now === made) return;
  made = now;
  if (now) {
    const { ask, of } = JSON.parse(now);
    const { frame: _, ...rest } = ask;
    const other = JSON.stringify([rest, of]);
    if (other !== content) {
      content = other;
      updateKept(ask, () => new Set());
    }
  }
  socket?.close();
  socket = null;
  clearTimeout(resting);
  if (now) resting = setTimeout(() => make(JSON.parse(now).ask), REST_MS);
}

function make(ask: PlayRequest | ReelPlayRequest) {
  const opened = playSocket();
  socket = opened;
  let begun = false;
  opened.onopen = () => opened.send(JSON.stringify({ type: "ahead", ...ask }));
  opened.onmessage = ({ data }) => {
    if (socket !== opened) return;
    const message = JSON.parse(data);
    if (message.type !== "held") return; // what is wrong is said when it is played
    updateKept(ask, (before) => new Set([...before, ...message.frames]));
    if (begun) return;
    begun = true;
    if ("reel" in ask) expectReelSounds();
    else expectClipSound();
  };
}

/** Which frames are kept has changed. */
function updateKept(
  ask: PlayRequest | ReelPlayRequest,
  change: (before: Set<number>) => Set<number>,
) {
  if ("reel" in ask) useReel.setState((s) => ({ played: change(s.played) }));
  else setState({ played: change(bench().played) });
}
