import { bench, setState, useBench } from "./bench";
import { isDrawing, useLifting } from "./lifting";
import { usePlace } from "./places";
import { playRequest, playSocket } from "./playRequest";
import { useTracking } from "./tracks";

/** While nothing else is done, frames from the play head on are made, so that Play finds them. */

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
  usePlace.subscribe(restart);
  useTracking.subscribe(restart);
  useLifting.subscribe(restart);
  document.addEventListener("visibilitychange", restart);
}

/** What is played, unless it plays already or a control moves; frames are told apart by all of it. */
function wanted(): string {
  const { playing, moving, clip, adding, starters } = bench();
  const elsewhere = usePlace.getState().place !== "bench" || document.hidden;
  const tracking = useTracking.getState().finding?.running;
  const lifting = isDrawing() || useLifting.getState().finding?.running;
  if (playing || moving || adding || starters || elsewhere || tracking || lifting) return "";
  const ask = playRequest();
  return ask ? JSON.stringify({ type: "ahead", ...ask, reading: clip?.reading }) : "";
}

function restart() {
  const now = wanted();
  if (now === made) return;
  made = now;
  const { frame: _, ...rest } = now ? JSON.parse(now) : { frame: 0 };
  if (now && JSON.stringify(rest) !== content) {
    content = JSON.stringify(rest);
    setState({ played: new Set() });
  }
  socket?.close();
  socket = null;
  clearTimeout(resting);
  if (now) resting = setTimeout(() => make(now), REST_MS);
}

function make(ask: string) {
  const opened = playSocket();
  socket = opened;
  const { reading, ...start } = JSON.parse(ask);
  opened.onopen = () => opened.send(JSON.stringify(start));
  opened.onmessage = ({ data }) => {
    if (socket !== opened) return;
    const message = JSON.parse(data);
    if (message.type !== "held") return; // what is wrong is said when it is played
    setState({ played: new Set([...bench().played, ...message.frames]) });
  };
}
