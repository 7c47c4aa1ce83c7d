import { unsentWith } from "../api/busy";
import { api, type Clip, type LookState, type PageMemory, unwrap } from "../api/client";
import { bench, setState, useBench } from "./bench";
import { chooseClip, type Left } from "./clips";
import { useHistory } from "./historyState";
import { openLook } from "./looks";
import { notice } from "./notices";
import { useRenderOptions } from "./renders";

/** How the page was left is kept with the project, not with the browser. */

const REST_MS = 400;

let memory: PageMemory | null = null;
let resting: ReturnType<typeof setTimeout> | undefined;
let resolveRest = () => {};

/** What is remembered of the bench as it is now. */
function mergeMemory(before: PageMemory): PageMemory {
  const now = bench();
  const clips = { ...before.clips };
  if (now.clip)
    clips[now.clip.id] = {
      frame: now.frame,
      look: now.lookId,
      played: now.range,
      rendered: [null, null],
    };
  for (const [id, rendered] of Object.entries(useRenderOptions.getState().ranges))
    clips[id] = { frame: 0, ...clips[id], rendered };
  return {
    clip: now.clip?.id ?? null,
    clips,
    open: now.open,
    question: now.question,
    panel: now.panel,
    zoom: now.zoom,
    path_height: now.pathHeight,
    side_width: now.sideWidth,
    history: useHistory.getState(),
  };
}

async function keep() {
  if (!memory) return;
  memory = mergeMemory(memory);
  if (bench().readOnly) return;
  await unwrap(api.PUT("/api/v1/page", { body: memory })).catch((error) => notice("clips", error));
}

/** Keep what is remembered once it has been left alone for a moment. */
function remember() {
  clearTimeout(resting);
  resolveRest();
  void unsentWith(
    new Promise<void>((done) => {
      resolveRest = done;
      resting = setTimeout(() => void keep().finally(done), REST_MS);
    }),
  );
}

const KEPT = [
  "clip",
  "lookId",
  "frame",
  "range",
  "open",
  "question",
  "panel",
  "zoom",
  "pathHeight",
  "sideWidth",
] as const;

/** Have the page be as it was left, among the clips and looks that are still there. */
export async function startMemory(clips: Clip[], looks: LookState[]) {
  memory = await unwrap(api.GET("/api/v1/page"));
  const { question, panel, zoom, path_height, side_width } = memory;
  setState({ question, panel, zoom, pathHeight: path_height, sideWidth: side_width });
  const left = Object.entries(memory.clips ?? {});
  const ranges = Object.fromEntries(left.map(([id, { rendered }]) => [id, rendered]));
  useRenderOptions.setState({ ranges });
  useHistory.setState(memory.history);
  const clip = clips.find((c) => c.id === memory?.clip) ?? clips[0];
  const look = looks.find((l) => l.id === leftOf(clip)?.look) ?? looks[0];
  return { clip, look, open: memory.clip === null ? undefined : memory.open, left: leftOf(clip) };
}

/** From now on, remember what changes. */
export function watchMemory() {
  useBench.subscribe((now, before) => {
    if (!now.playing && KEPT.some((name) => now[name] !== before[name])) remember();
  });
  useHistory.subscribe(remember);
  useRenderOptions.subscribe((now, before) => {
    if (now.ranges !== before.ranges) remember();
  });
}

function leftOf(clip: Clip | undefined): Left | undefined {
  return clip && memory?.clips?.[clip.id];
}

/** The look that a clip was left with; that on the bench where it was never open. */
export const lookLeftOn = (clip: Clip): number | null =>
  clip.id === bench().clip?.id ? bench().lookId : (leftOf(clip)?.look ?? bench().lookId);

/** Put a clip on the bench as it was left: with its look, at its frame. */
export async function returnToClip(clip: Clip) {
  if (memory) memory = mergeMemory(memory);
  const left = leftOf(clip);
  chooseClip(clip, left);
  if (left?.look != null && left.look !== bench().lookId) await openLook(left.look);
}
