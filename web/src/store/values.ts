import { create } from "zustand";
import { busyWith } from "../api/busy";
import { api, type SettingValue, type Step, type Values } from "../api/client";
import { keyedNames, keysOf, withPlain } from "../model/keyframes";
import { findStep } from "../model/lookTree";
import { bench, useBench } from "./bench";

/** The open step's keyed values at the play head, as the server last gave them. */
interface Known {
  step: string;
  frame: number;
  values: Values;
}
export const useValues = create<{ known: Known | null }>(() => ({ known: null }));

/** The step as it is at a frame, as far as is known: keys there count at once. */
export function atFrame(step: Step, frame: number, known = useValues.getState().known): Step {
  const values = known?.step === step.id ? known.values : undefined;
  const given: Record<string, SettingValue | null> = {
    ...values?.settings,
    ...prefixFields(values?.mix),
  };
  let shown = step;
  for (const name of keyedNames(step)) {
    const here = keysOf(step, name).find((k) => k.frame === frame);
    if (here) shown = withPlain(shown, name, here.value);
    else if (name in given) shown = withPlain(shown, name, given[name] ?? null);
  }
  return shown;
}

/** The step as it is at the play head. */
export function useAtFrame(step: Step): Step {
  const keyed = keyedNames(step).length > 0;
  const frame = useBench((s) => (keyed ? s.frame : 0));
  const known = useValues((s) => (keyed ? s.known : null));
  return keyed ? atFrame(step, frame, known) : step;
}

const prefixFields = (mix: Values["mix"] | undefined) =>
  Object.fromEntries(Object.entries(mix ?? {}).map(([name, value]) => [`mix.${name}`, value]));

/** In play the values follow, so many times a second at the most. */
const EVERY_MS = 150;

let asking = false;
let stale = false;

/** One question at a time, and the newest state last. */
async function ask() {
  stale = true;
  if (asking) return;
  asking = true;
  while (stale) {
    stale = false;
    const { clip, frame, look, open, looked } = bench();
    const step = look && findStep(look.steps, open);
    if (!clip || !look || !step || !keyedNames(step).length) {
      useValues.setState({ known: null });
      continue;
    }
    const body = {
      clip: clip.id,
      frame,
      look,
      step: step.id,
      looked: [...looked].slice(-2000),
    };
    const { data } = await api
      .POST("/api/v1/step-values", { body })
      .catch(() => ({ data: undefined }));
    if (data) useValues.setState({ known: { step: step.id, frame, values: data } });
    if (bench().playing) await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
  }
  asking = false;
}

const SEEN = ["clip", "frame", "look", "open", "looked", "playing"] as const;

/** Ask anew whenever the open step's values may have changed. */
export function startValues() {
  useBench.subscribe((now, before) => {
    const step = now.look && findStep(now.look.steps, now.open);
    if (now.playing && !(step && keyedNames(step).length)) return;
    if (SEEN.some((key) => now[key] !== before[key])) void busyWith(ask());
  });
}
