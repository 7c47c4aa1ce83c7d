import { create } from "zustand";
import type { History } from "../api/client";
import { EMPTY } from "../model/history";

/** Changes of how clips are read, and of their ranges; looks have revisions of their own. */
export const useHistory = create<History>(() => EMPTY);
