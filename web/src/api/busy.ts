import { create } from "zustand";

/**
 * How much is on its way to or from the server, and how much will be sent once it has been left alone
 * for a moment. The page says it is busy while there is any of the first.
 */
export const useBusy = create<{ count: number; unsent: number }>(() => ({ count: 0, unsent: 0 }));

function countWhile<T>(kind: "count" | "unsent", work: Promise<T>): Promise<T> {
  const add = (by: number) => useBusy.setState((now) => ({ [kind]: now[kind] + by }));
  add(1);
  return work.finally(() => add(-1));
}

/** Count some work as on its way until it has ended. */
export const busyWith = <T>(work: Promise<T>): Promise<T> => countWhile("count", work);

/** Count some work as not sent yet until it has been. */
export const unsentWith = <T>(work: Promise<T>): Promise<T> => countWhile("unsent", work);
