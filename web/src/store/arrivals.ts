import { create } from "zustand";
import { bench } from "./bench";

/** What is on its way in, or being made; what of it could not be taken; and what is to be decided. */

export interface Arrival {
  name: string;
  /** What is done just now: "Bringing in", "Making". */
  doing: string;
  /** 0 to 1. */
  part: number;
  stop?: () => void;
}

/** Stills that may be one numbered clip, or as many plates. */
export interface Question {
  /** Like `shot.%04d.png`; null where they are not numbered alike. */
  name: string | null;
  stills: File[];
  answer: (as: "clip" | "plates" | null) => void;
}

interface Arrivals {
  arriving: Arrival[];
  failed: { name: string; why: string }[];
  questions: Question[];
  /** Counts what has come. */
  come: number;
}

export const useArrivals = create<Arrivals>(() => ({
  arriving: [],
  failed: [],
  questions: [],
  come: 0,
}));

const set = useArrivals.setState;

/** Do something with a file while it is shown how far it is; a failure is listed until put away. */
export async function arriving<T>(
  name: string,
  doing: string,
  work: (onProgress: (part: number) => void, signal: AbortSignal) => Promise<T>,
): Promise<T | undefined> {
  const giveUp = new AbortController();
  const entry: Arrival = { name, doing, part: 0, stop: () => giveUp.abort() };
  const show = (part: number) => {
    entry.part = part;
    set(({ arriving }) => ({ arriving: [...arriving] }));
  };
  set(({ arriving }) => ({ arriving: [...arriving, entry] }));
  try {
    const made = await work(show, giveUp.signal);
    set(({ come }) => ({ come: come + 1 }));
    return made;
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error); // of the file's own places
    if (!giveUp.signal.aborted) set(({ failed }) => ({ failed: [...failed, { name, why }] }));
    return undefined;
  } finally {
    set(({ arriving }) => ({ arriving: arriving.filter((each) => each !== entry) }));
  }
}

/** Ask whether stills are one clip or as many plates; null is neither. */
export function askStillsKind(
  name: string | null,
  stills: File[],
): Promise<"clip" | "plates" | null> {
  return new Promise((resolve) => {
    const question: Question = {
      name,
      stills,
      answer: (as) => {
        set(({ questions }) => ({ questions: questions.filter((each) => each !== question) }));
        resolve(as);
      },
    };
    set(({ questions }) => ({ questions: [...questions, question] }));
  });
}

export const putFailedAway = () => set({ failed: [] });

/** The catalogue's treatment of a kind. */
export const treatmentOfKind = (kind: string) =>
  bench().catalogue?.treatments.find((t) => t.kind === kind);
