import type { Clip, Look, LookState, SettingValue, Snapshot } from "../../api/client";
import type { Scope } from "../../model/fittings";
import { findStep } from "../../model/lookTree";
import { type Shot, type Subject, valueNow, valuesOf, withVariant } from "../../model/proofs";
import { same } from "../../model/same";
import { inNumbers } from "../../model/shownNumbers";
import { stepName } from "../../model/stepNames";
import { choiceWord } from "../../model/stepSummary";
import { useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { lookOn } from "../../store/fittings";
import {
  benchLookOn,
  settingOf,
  takeLook,
  takeShot,
  takeSnapshot,
  takeValue,
  takeValueForEvery,
} from "../../store/proofs";

/** One way of what a sheet tries. */
export interface Variant {
  key: string;
  caption: string;
  /** The number in the caption's place, of a span. */
  value?: number;
  /** The look stands so on the shot's clip now. */
  stands: (shot: Shot) => boolean;
  look: (shot: Shot) => Look | null;
  /** Take it on the shot's clip: for that alone, or as a change on the bench goes to every clip. */
  take: (shot: Shot, scope: Scope) => void;
  /** Every clip has it from now on, and none another of its own. */
  takeForEvery?: (shot: Shot) => void;
}

/** What a sheet tries, way by way. */
export function useVariants(subject: Subject, looks: LookState[]): Variant[] {
  const clips = useClips().data ?? [];
  const snapshots = useBench((s) => s.snapshots);
  const look = useBench((s) => s.look);
  useBench((s) => s.shared); // what the looks below are made of
  useBench((s) => s.fittings);
  useBench((s) => s.catalogue);
  if (subject.kind === "looks") return ofLooks(looks, subject.ids, clips);
  if (subject.kind === "snapshots") return ofSnapshots(snapshots);
  if (subject.kind === "clips") return [asTheyAre];
  const setting = settingOf(subject.step, subject.name);
  const whole = ["frames", "frame", "seed"].includes(setting?.unit ?? "");
  const now = look && valueNow(look, subject.step, subject.name);
  const values =
    subject.kind === "span" ? withNow(valuesOf(subject.span, whole), now) : subject.values;
  return values.map((value): Variant => {
    const at = (look: Look | null) => look && valueNow(look, subject.step, subject.name);
    const number = typeof value === "number" && subject.kind === "span";
    return {
      key: JSON.stringify(value),
      caption: number && setting ? inNumbers(setting, value) : inWords(subject.name, value),
      value: number ? value : undefined,
      stands: ({ clip }) => same(at(benchLookOn(clip)), value),
      look: (shot) => varied(subject, value, shot),
      take: (shot, scope) => takeValue(subject, value, shot, scope),
      takeForEvery: (shot) => takeValueForEvery(subject, value, shot),
    };
  });
}

/** The value as it is now stands among those that are tried, so that there is one to compare with. */
const withNow = (values: number[], now: unknown) =>
  typeof now === "number" && !values.includes(now)
    ? [...values, now].sort((a, b) => a - b)
    : values;

function varied({ step, name }: { step: string; name: string }, value: SettingValue, shot: Shot) {
  const look = benchLookOn(shot.clip);
  return look && withVariant(look, step, name, value, shot.frame);
}

const inWords = (name: string, value: SettingValue) =>
  typeof value === "boolean" ? (value ? "on" : "off") : choiceWord(name, value);

const ofLooks = (looks: LookState[], ids: number[], clips: Clip[]): Variant[] =>
  looks
    .filter((look) => ids.includes(look.id))
    .map((look) => ({
      key: String(look.id),
      caption: look.name,
      stands: () => false,
      look: ({ clip }) => {
        const found = clips.find((c) => c.id === clip);
        return found ? lookOn(found, look) : look.look;
      },
      take: (shot) => void takeLook(look, shot),
    }));

const ofSnapshots = (snapshots: Snapshot[]): Variant[] =>
  snapshots.map((snapshot) => ({
    key: snapshot.id,
    caption: snapshot.name,
    stands: () => false,
    look: () => snapshot.look as Look,
    take: () => takeSnapshot(snapshot.id),
  }));

const asTheyAre: Variant = {
  key: "now",
  caption: "",
  stands: () => false,
  look: ({ clip }) => benchLookOn(clip),
  take: (shot) => void takeShot(shot),
};

/** What a sheet is called. */
export function subjectWords(subject: Subject, look: Look | null): string {
  if (subject.kind === "looks") return "Looks";
  if (subject.kind === "snapshots") return "Kept states";
  if (subject.kind === "clips") return "All clips as they look now";
  const step = look && findStep(look.steps, subject.step);
  if (!step) return "A step that is gone";
  const label =
    subject.name === "mix.blend" ? "blend" : (settingOf(subject.step, subject.name)?.label ?? "");
  return `${stepName(step)} · ${label.charAt(0).toLowerCase()}${label.slice(1)}`;
}
