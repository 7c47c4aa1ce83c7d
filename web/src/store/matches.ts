import { busyWith } from "../api/busy";
import {
  type Clip,
  type Look,
  type MatchProgress,
  type MatchRequest,
  type MatchSubject,
  NO_LOOK,
  type Shot,
} from "../api/client";
import { streamProgress } from "../api/progress";
import { queryClient } from "../api/queries";
import { findStep } from "../model/lookTree";
import { withMatch, withoutMatch } from "../model/matches";
import { madeStep } from "../model/newStep";
import { treatmentOfKind } from "./arrivals";
import { bench } from "./bench";
import { editOn, editShared } from "./edits";
import { notice } from "./notices";
import { benchLookOn, openSheet } from "./proofs";

/** Bring a clip near another picture: the grade that is found for that, and taking it. */

export type Like = MatchSubject["like"];

/** What is asked for. */
export interface Wish {
  like: Like;
  place: MatchSubject["place"];
  held: MatchRequest["held"];
  /** Of the bundle that is made. */
  name: string;
}

/** The id that a grade's bundle has. */
const MATCH = "match";

/** A look in which a picture is seen that others are to come near. */
export function lookLike({ like, place }: Pick<MatchSubject, "like" | "place">): Look {
  if (like.kind === "frame")
    return place === "before" ? NO_LOOK : withoutMatch(benchLookOn(like.clip) ?? NO_LOOK, MATCH);
  const plate = treatmentOfKind("plate");
  if (!plate) return NO_LOOK;
  const step = madeStep(plate, "like", { file: like.file });
  return { ...NO_LOOK, steps: [{ ...step, mix: { blend: "normal", amount: 1 } }] };
}

/** Find a grade for the clip at hand, and open a sheet of its amounts. */
export async function findMatch(
  { like, place, held, name }: Wish,
  onPart: (part: number) => void,
  signal: AbortSignal,
) {
  const { clip, look, frame } = bench();
  if (!clip || !look) return;
  const after = place === "before" ? "footage" : null;
  const ask: MatchRequest = {
    clip: clip.id,
    look: withoutMatch(look, MATCH),
    after,
    like: like.kind === "plate" ? like : { ...like, look: lookLike({ like, place }), after },
    held,
    name,
  };
  const lines = streamProgress<MatchProgress>("/api/v1/matches", ask, signal);
  const work = async () => {
    for await (const { done, total, match } of lines) {
      onPart(done / total);
      if (!match) continue;
      const { step, before: distance, after: remains } = match;
      openSheet({ kind: "match", step, place, like, distance, remains, held: match.held }, [
        { clip: clip.id, frame },
      ]);
    }
  };
  try {
    await busyWith(work());
  } catch (error) {
    if (!signal.aborted) notice("look", error);
  }
}

/** Take so much of a grade on a shot's clip, for that alone where there are others. */
export function takeMatch(match: MatchSubject, amount: number, shot: Shot) {
  const { shared } = bench();
  if (!shared) return;
  const clips = queryClient.getQueryData<Clip[]>(["clips"]) ?? [];
  const scope = clips.length > 1 ? "this" : "every";
  // a step is every clip's: on others it is there, and does nothing
  if (scope === "this" && !findStep(shared.steps, match.step.id))
    editShared(
      (look) => withMatch(look, match, 0),
      () => false,
    );
  editOn(shot.clip, (look) => withMatch(look, match, amount), scope);
}
