import {
  type Clip,
  type EvenSubject,
  type Look,
  type LookState,
  type MatchSubject,
  NO_LOOK,
  type SettingValue,
  type Shot,
  type Snapshot,
  type Step,
  type TriedValues,
} from "../../api/client";
import type { Scope } from "../../model/fittings";
import { findStep } from "../../model/lookTree";
import { AMOUNTS, matchAmount, withMatch, withoutMatch } from "../../model/matches";
import { type Subject, valueNow, valuesOf, withVariant } from "../../model/proofs";
import { same } from "../../model/same";
import { inNumbers } from "../../model/shownNumbers";
import { stepName } from "../../model/stepNames";
import { choiceWord } from "../../model/stepSummary";
import { formatFixed } from "../../model/words";
import { bench, useBench } from "../../store/bench";
import { useClips } from "../../store/clips";
import { amountOn, takeAmount } from "../../store/evenAmounts";
import { lookOn } from "../../store/fittings";
import { lookLike, takeMatch } from "../../store/matches";
import { lookLeftOn } from "../../store/memory";
import {
  benchLookOn,
  type Change,
  settingOf,
  takeLook,
  takeShot,
  takeSnapshot,
  takeValueForEvery,
  takeValues,
} from "../../store/proofs";

/** One way of what a sheet tries. */
export interface Variant {
  key: string;
  caption: string;
  /** What is changed; none of whole looks. */
  changes: Change[];
  /** The number in the caption's place, of a span. */
  value?: number;
  /** The look stands so on the shot's clip now. */
  stands: (shot: Shot) => boolean;
  look: (shot: Shot) => Look | null;
  /** Take it on the shot's clip: for that alone, or as a change on the bench goes to every clip.
   * None of what is there to be compared with. */
  take?: (shot: Shot, scope: Scope) => void;
  /** The shot that it is seen on, where it is of one of its own. */
  at?: Shot;
  /** What is said of it on a shot besides, under its picture. */
  captionOn?: (shot: Shot) => string;
  /** Every clip has it from now on, and none another of its own. */
  takeForEvery?: (shot: Shot) => void;
}

/** What a sheet tries: way by way, and across what, where it is two settings. */
export interface Tried {
  rows: Variant[];
  columns: Variant[];
}

export function useTried(subject: Subject, looks: LookState[]): Tried {
  const clips = useClips().data ?? [];
  const snapshots = useBench((s) => s.snapshots);
  const look = useBench((s) => s.look);
  useBench((s) => s.shared); // what the looks below are made of
  useBench((s) => s.fittings);
  useBench((s) => s.catalogue);
  switch (subject.kind) {
    case "looks":
      return { rows: ofLooks(looks, subject.ids, clips), columns: [] };
    case "snapshots":
      return { rows: ofSnapshots(snapshots), columns: [] };
    case "clips":
      return { rows: [asLeft(looks, clips)], columns: [] };
    case "even":
      return { rows: ofEven(subject, clips), columns: [] };
    case "match":
      return { rows: ofMatch(subject), columns: [] };
    case "pair":
      return { rows: ofValues(subject.rows, look), columns: ofValues(subject.columns, look) };
    default:
      return { rows: ofValues(subject, look), columns: [] };
  }
}

/** A row's change and a column's, together. */
export function combineVariants(row: Variant, column: Variant): Variant {
  return ofChanges([...row.changes, ...column.changes], `${row.caption} · ${column.caption}`);
}

function ofValues(of: TriedValues, look: Look | null): Variant[] {
  const setting = settingOf(of.step, of.name);
  const whole = ["frames", "frame", "seed"].includes(setting?.unit ?? "");
  const now = look && valueNow(look, of.step, of.name);
  const values = of.kind === "span" ? withNow(valuesOf(of.span, whole), now) : of.values;
  return values.map((value): Variant => {
    const number = of.kind === "span" && typeof value === "number";
    const caption = number && setting ? inNumbers(setting, value) : inWords(of.name, value);
    const change = { step: of.step, name: of.name, value };
    return {
      ...ofChanges([change], caption),
      value: number ? value : undefined,
      takeForEvery: (shot) => takeValueForEvery(change, shot),
    };
  });
}

function ofChanges(changes: Change[], caption: string): Variant {
  return {
    key: JSON.stringify(changes.map((change) => change.value)),
    caption,
    changes,
    stands: ({ clip }) => {
      const look = benchLookOn(clip);
      return look !== null && changes.every((c) => same(valueNow(look, c.step, c.name), c.value));
    },
    look: ({ clip, frame }) => {
      const look = benchLookOn(clip);
      return look && changes.reduce((l, c) => withVariant(l, c.step, c.name, c.value, frame), look);
    },
    take: (shot, scope) => takeValues(changes, shot, scope),
  };
}

/** The value as it is now stands among those that are tried, so that there is one to compare with. */
const withNow = (values: number[], now: unknown) =>
  typeof now === "number" && !values.includes(now)
    ? [...values, now].sort((a, b) => a - b)
    : values;

const inWords = (name: string, value: SettingValue) =>
  typeof value === "boolean" ? (value ? "on" : "off") : choiceWord(name, value);

const ofLooks = (looks: LookState[], ids: number[], clips: Clip[]): Variant[] =>
  looks
    .filter((look) => ids.includes(look.id))
    .map((look) => ({
      key: String(look.id),
      caption: look.name,
      changes: [],
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
    changes: [],
    stands: () => false,
    look: () => snapshot.look as Look,
    take: () => takeSnapshot(snapshot.id),
  }));

/** A clip as it is, with ever more of a grade, and what it is to come near. */
function ofMatch(match: MatchSubject): Variant[] {
  const amounts = AMOUNTS.map(
    (amount): Variant => ({
      key: String(amount),
      caption: `${100 * amount} %`,
      changes: [],
      stands: ({ clip }) => amount === matchAmount(benchLookOn(clip) ?? NO_LOOK, match),
      look: ({ clip }) => {
        const look = benchLookOn(clip);
        return look && withMatch(look, match, amount);
      },
      take: (shot) => takeMatch(match, amount, shot),
    }),
  );
  const own = { changes: [], stands: () => false };
  return [
    {
      ...own,
      key: "without",
      caption: "without",
      look: ({ clip }) => withoutMatch(benchLookOn(clip) ?? NO_LOOK, match.step.id),
    },
    ...amounts,
    {
      ...own,
      key: "like",
      caption: "the picture",
      look: () => lookLike(match),
      at: match.like.kind === "frame" ? match.like : undefined,
    },
  ];
}

/** Each clip as it is, and with the amount with which the step does alike on all. */
function ofEven(even: EvenSubject, clips: Clip[]): Variant[] {
  const name = "mix.amount";
  const words = (amount: unknown) => `${formatFixed(100 * Number(amount), 0)} %`;
  const now = (shot: Shot) => {
    const look = benchLookOn(shot.clip);
    return look ? valueNow(look, even.step, name) : undefined;
  };
  const aside = { changes: [], stands: () => false };
  return [
    {
      ...aside,
      key: "now",
      caption: "as it is",
      captionOn: (shot) => words(now(shot) ?? 1),
      look: ({ clip }) => benchLookOn(clip),
    },
    {
      ...aside,
      key: "even",
      caption: "alike",
      captionOn: ({ clip }) => {
        const found = even.clips.find((each) => each.clip === clip);
        if (!found || found.amount === null) return "does nothing to speak of";
        const less = found.reached < 0.995 ? `, does ${words(found.reached)} as much` : "";
        return `${words(found.amount)}${less}`;
      },
      stands: (shot) => {
        const amount = amountOn(even, shot.clip);
        return amount === null || same(now(shot), amount);
      },
      look: ({ clip, frame }) => {
        const [look, amount] = [benchLookOn(clip), amountOn(even, clip)];
        return look && amount !== null ? withVariant(look, even.step, name, amount, frame) : look;
      },
      take: (shot) => takeAmount(even, shot),
      takeForEvery: () => {
        for (const clip of clips) takeAmount(even, { clip: clip.id, frame: 0 });
      },
    },
  ];
}

/** Each clip with the look that it was left with. */
function asLeft(looks: LookState[], clips: Clip[]): Variant {
  const of = (id: number) => {
    const clip = clips.find((each) => each.id === id);
    const left = clip && looks.find((look) => look.id === lookLeftOn(clip));
    return { clip, left: left && left.id !== bench().lookId ? left : undefined };
  };
  return {
    key: "now",
    caption: "",
    captionOn: ({ clip }) => of(clip).left?.name ?? "",
    changes: [],
    stands: () => false,
    look: ({ clip: id }) => {
      const { clip, left } = of(id);
      return clip && left ? lookOn(clip, left) : benchLookOn(id);
    },
    take: (shot) => void takeShot(shot),
  };
}

/** What a sheet is called. */
export function subjectWords(subject: Subject, look: Look | null): string {
  if (subject.kind === "looks") return "Looks";
  if (subject.kind === "snapshots") return "Kept states";
  if (subject.kind === "clips") return "All clips as they look now";
  if (subject.kind === "even") {
    const found = look && findStep(look.steps, subject.step);
    return found ? `${stepName(found)} alike on each clip` : "A step that is gone";
  }
  if (subject.kind === "match") return stepName(subject.step as Step);
  if (subject.kind === "pair") {
    const [rows, columns] = [subject.rows, subject.columns];
    if (rows.step !== columns.step)
      return `${subjectWords(rows, look)} by ${subjectWords(columns, look)}`;
    return `${subjectWords(rows, look)} by ${settingWord(columns)}`;
  }
  const step = look && findStep(look.steps, subject.step);
  if (!step) return "A step that is gone";
  return `${stepName(step)} · ${settingWord(subject)}`;
}

/** A setting within a line of words. */
function settingWord({ step, name }: TriedValues) {
  const label = name === "mix.blend" ? "blend" : (settingOf(step, name)?.label ?? name);
  return `${label.charAt(0).toLowerCase()}${label.slice(1)}`;
}
