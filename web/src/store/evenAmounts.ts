import { busyWith } from "../api/busy";
import type { EvenAmountsProgress, EvenAmountsRequest, EvenSubject, Shot } from "../api/client";
import { listClips } from "../api/lists";
import { streamProgress } from "../api/progress";
import { MOST, withVariant } from "../model/proofs";
import { bench } from "./bench";
import { editOn } from "./edits";
import { notice } from "./notices";
import { benchLookOn, middleOf, openSheet } from "./proofs";

/** A step's amount fitted to each clip, so that it does alike on all of them. */

const AMOUNT = "mix.amount";

/** Measure what the step does on each clip, and open a sheet of the amounts that follow. */
export async function findEvenAmounts(
  step: string,
  amount: number,
  onPart: (part: number) => void,
  signal: AbortSignal,
) {
  const { clip } = bench();
  if (!clip) return;
  try {
    const others = (await listClips()).filter((each) => each.id !== clip.id);
    // two rows
    const clips = [clip, ...others].slice(0, MOST / 2);
    const ask: EvenAmountsRequest = {
      step,
      amount,
      clips: clips.flatMap(({ id }) => {
        const look = benchLookOn(id);
        return look ? [{ clip: id, look }] : [];
      }),
    };
    const lines = streamProgress<EvenAmountsProgress>("/api/v1/even-amounts", ask, signal);
    const work = async () => {
      for await (const { done, total, amounts } of lines) {
        onPart(done / total);
        if (amounts) openSheet({ kind: "even", step, ...amounts }, clips.map(middleOf));
      }
    };
    await busyWith(work());
  } catch (error) {
    if (!signal.aborted) notice("look", error);
  }
}

/** What a clip is to have; null where nothing is to change. */
export const amountOn = (even: EvenSubject, clip: number): number | null =>
  even.clips.find((each) => each.clip === clip)?.amount ?? null;

/** A clip has its amount from now on. */
export function takeAmount(even: EvenSubject, { clip, frame }: Shot) {
  const amount = amountOn(even, clip);
  if (amount !== null)
    editOn(clip, (look) => withVariant(look, even.step, AMOUNT, amount, frame), "this");
}
