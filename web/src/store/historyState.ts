import { create } from "zustand";
import type { Entry, History } from "../api/client";
import { EMPTY, recordEntry } from "../model/history";

/** What is changed beside the looks; kept with the project. */
export const useHistory = create<History>(() => EMPTY);

/** What is applied is no new change. */
let applying = false;

/** Note a change, unless it is made by taking one back. */
export function record(entry: Entry) {
  if (!applying) useHistory.setState(recordEntry(useHistory.getState(), entry));
}

/** Do something that is no new change. */
export async function withoutRecording(work: () => Promise<void>) {
  applying = true;
  try {
    await work();
  } finally {
    applying = false;
  }
}
