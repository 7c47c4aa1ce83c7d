import { create } from "zustand";

/** How much is on its way to or from the server; the page says it is busy while there is any. */
export const useBusy = create<{ count: number }>(() => ({ count: 0 }));

const add = (by: number) => useBusy.setState(({ count }) => ({ count: count + by }));

/** Count some work as on its way until it has ended. */
export function busyWith<T>(work: Promise<T>): Promise<T> {
  add(1);
  return work.finally(() => add(-1));
}
