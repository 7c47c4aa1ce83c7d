import { useQuery } from "@tanstack/react-query";
import {
  api,
  type Burst,
  type BurstsRule,
  type Starter,
  type StarterBursts,
  type Step,
  unwrap,
} from "../api/client";
import { withVisibleSizes } from "../model/visibleSizes";
import { bench, setState } from "./bench";
import { edit } from "./edits";
import { newLook } from "./looks";
import { notice } from "./notices";

/** The starter looks. */
export function useStarters(): Starter[] | undefined {
  return useQuery({
    queryKey: ["starters"],
    queryFn: () => unwrap(api.GET("/api/v1/starters")),
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
}

/** Frames from burst to burst in a clip that has no beats, and from beat to beat at the most. */
const EVERY = 24;
const RARE = 72;

/** Bursts of such a length for the clip: on the beats of its sound, or else evenly. */
export async function burstsFor({ length, ramp, threshold }: StarterBursts): Promise<Burst[]> {
  const clip = bench().clip;
  if (!clip) return [];
  const ask = (body: BurstsRule) =>
    unwrap(
      api.POST("/api/v1/clips/{clip_id}/bursts", { params: { path: { clip_id: clip.id } }, body }),
    );
  const heard = clip.audio.length ? await ask({ way: "sound", length, ramp, threshold }) : [];
  if (heard.length * RARE >= clip.frames) return heard;
  return ask({ way: "repeated", length, ramp, every: EVERY, first: EVERY / 2 });
}

/** A starter's step, with its bursts made for the clip, and no size too fine for it. */
export async function starterStep(starter: Starter, step: Step): Promise<Step> {
  const given = starter.bursts[step.id];
  const { clip, catalogue } = bench();
  const seen = clip ? withVisibleSizes(step, catalogue?.treatments ?? [], clip.height) : step;
  return given ? { ...seen, bursts: await burstsFor(given) } : seen;
}

/** Begin to build a starter look step by step, in a new look of its name. */
export async function beginWalk(starter: Starter) {
  await newLook(starter.name);
  setState({ walk: { starter: starter.name, look: bench().lookId } });
}

/** Add the walk's next step at the end, and open it. */
export async function addWalkStep(starter: Starter, step: Step) {
  try {
    const made = await starterStep(starter, step);
    edit((look) => ({ ...look, steps: [...look.steps, made] }));
    setState({ open: made.id, question: "what" });
  } catch (error) {
    notice("look", error);
  }
}

export const endWalk = () => setState({ walk: null });
