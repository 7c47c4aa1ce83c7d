import type {
  Outline,
  SettingValue,
  Shape,
  ShapeKind,
  ShapeKindName,
  ShapeOf,
  Step,
} from "../api/client";
import { allSteps } from "./lookTree";
import { crossesItself, extentOf } from "./paths";
import { stepName } from "./stepNames";

/** The shapes of a step's mask: what is made of them, and what they are called. */

/** What the names of keys of shapes begin with: `mix.mask.<id>.<field>`. */
export const MASK = "mix.mask.";

export const shapesOf = (step: Step): Shape[] => step.mix.mask ?? [];

/** Whether a shape is of a kind, with the fields of that. */
export const isShape = <K extends ShapeKindName>(
  shape: Shape,
  ...kinds: K[]
): shape is Shape & ShapeOf<K> => kinds.some((kind) => kind === shape.kind);

/** Whether a shape has an outline, in which something can be followed. */
export const isOutline = (shape: Shape): shape is Shape & Outline =>
  isShape(shape, "ellipse", "box", "drawn");

/** What a shape has, as settings. */
export const fieldsOf = (shape: Shape): Step["settings"] =>
  Object.fromEntries(Object.entries(shape).flatMap(([k, v]) => (v === undefined ? [] : [[k, v]])));

export const keyName = (shape: Shape, field: string) => `${MASK}${shape.id}.${field}`;

/** A name of a key, taken apart; null where it names no shape. */
function parts(name: string): { id: string; field: string } | null {
  if (!name.startsWith(MASK)) return null;
  const dot = name.lastIndexOf(".");
  return { id: name.slice(MASK.length, dot), field: name.slice(dot + 1) };
}

/** The value of a shape's field, by the name keys have it under; undefined where there is none. */
export function fieldOf(step: Step, name: string): SettingValue | undefined {
  const named = parts(name);
  return named ? shapesOf(step).find((s) => s.id === named.id)?.[named.field] : undefined;
}

/** Which field of which shape a name of a key is of; null where it is of none. */
export function keyedShape(step: Step, name: string) {
  const named = parts(name);
  const kind = named && shapesOf(step).find((s) => s.id === named.id)?.kind;
  return named && { ...named, kind };
}

export const withMask = (step: Step, mask: Shape[]): Step => ({
  ...step,
  mix: { ...step.mix, mask },
});

export function withField(step: Step, name: string, value: SettingValue): Step {
  const named = parts(name);
  const changeShape = (shape: Shape) =>
    shape.id === named?.id ? { ...shape, [named.field]: value } : shape;
  return withMask(step, shapesOf(step).map(changeShape));
}

/** An id that no shape of a step has: the kind, with a number after it where it has to be. */
export function freshShapeId(step: Step, wanted: string): string {
  const taken = new Set(shapesOf(step).map((s) => s.id));
  let id = wanted;
  for (let n = 2; taken.has(id); n += 1) id = `${wanted} ${n}`;
  return id;
}

/** A shape as it is made; the first of a mask adds, whatever the later do. */
export function madeShape(kind: ShapeKind, id: string, fields: Partial<Shape> = {}): Shape {
  const made = Object.fromEntries(kind.settings.map((s) => [s.name, s.default]));
  return { join: "add", strength: 1, invert: false, ...made, ...fields, id, kind: kind.kind };
}

/** The step without a shape, and without its keys. */
export function withoutShape(step: Step, id: string): Step {
  const keys = Object.entries(step.keys ?? {}).filter(([name]) => parts(name)?.id !== id);
  const left = withMask(
    step,
    shapesOf(step).filter((s) => s.id !== id),
  );
  return { ...left, keys: Object.fromEntries(keys) };
}

/** The step and shape that a shape is: its own, or the one it is the same as. */
export function sourceOf(steps: Step[], step: Step, shape: Shape): { step: Step; shape: Shape } {
  if (!shape.same_as) return { step, shape };
  const dot = shape.same_as.lastIndexOf(".");
  const other = allSteps(steps).find((s) => s.id === shape.same_as?.slice(0, dot));
  const same = other && shapesOf(other).find((s) => s.id === shape.same_as?.slice(dot + 1));
  return other && same ? { step: other, shape: same } : { step, shape };
}

/** The step with a shape that is the same as another's made its own, with that one's keys. */
export function unlinkShape(steps: Step[], step: Step, id: string): Step {
  const shape = shapesOf(step).find((s) => s.id === id);
  if (!shape?.same_as) return step;
  const source = sourceOf(steps, step, shape);
  if (source.shape.same_as) return step;
  const { join, strength, invert } = shape;
  const own: Shape = { ...source.shape, id, join, strength, invert };
  const from = `${MASK}${source.shape.id}.`;
  const keys = Object.entries(source.step.keys ?? {})
    .filter(([name]) => name.startsWith(from) && !name.endsWith(".strength"))
    .map(([name, list]) => [`${MASK}${id}.${name.slice(from.length)}`, list]);
  const mask = shapesOf(step).map((s) => (s.id === id ? own : s));
  return { ...withMask(step, mask), keys: { ...step.keys, ...Object.fromEntries(keys) } };
}

/**
 * Steps whose shapes are their own where what they are the same as will not be there: a step of
 * `gone`, or the one shape of it that is named.
 */
export function withOwnShapes(
  steps: Step[],
  all: Step[],
  gone: (step: string, shape: string) => boolean,
): Step[] {
  const change = (step: Step): Step => {
    const named = shapesOf(step).filter((shape) => {
      const source = sourceOf(all, step, shape);
      return shape.same_as && gone(source.step.id, source.shape.id);
    });
    const own = named.reduce((s, shape) => unlinkShape(all, s, shape.id), step);
    const inner = own.settings.steps as Step[] | undefined;
    if (own.treatment !== "bundle" || !inner) return own;
    return { ...own, settings: { ...own.settings, steps: inner.map(change) } };
  };
  return steps.map(change);
}

const percent = (v: number) => Math.round(100 * v);

/** What tells a shape from others of its kind, in a few words. */
export function shapeSays(steps: Step[], step: Step, shape: Shape): string {
  const source = sourceOf(steps, step, shape);
  if (shape.same_as) return `the same as ${stepName(source.step)}'s ${source.shape.id}`;
  const feather = shape.feather ? `, feather ${Math.round(Number(shape.feather))} px` : "";
  if (isShape(shape, "tones")) {
    const shown = shape.points.filter(([, weight]) => weight > 0);
    const [first, last] = [shown[0]?.[0] ?? 0, shown.at(-1)?.[0] ?? 0];
    return `${percent(first)} to ${percent(last)} % of ${ofWords(steps, shape)}${feather}`;
  }
  if (isShape(shape, "hue"))
    return `${Math.round(shape.hue)}° of ${ofWords(steps, shape)}${feather}`;
  if (isShape(shape, "matte"))
    return shape.file ? `${shape.use} of a plate${feather}` : "no plate yet";
  if (isShape(shape, "wash")) return "from none to all along a line";
  if (isShape(shape, "drawn")) return `${shape.points.length} points${feather}`;
  if (!isShape(shape, "ellipse", "box")) return "";
  return `${percent(shape.size[0])} by ${percent(shape.size[1])} %${feather}`;
}

const LINES = 1080;

/** Half of what a shape reaches beyond its middle, at the most, as a part of the frame's height. */
const reachOf = ({ size, feather }: ShapeOf<"ellipse" | "box">): number =>
  2 * Math.max(...size) + feather / 2 / LINES;

/** What is wrong with a shape, though it can be drawn; null where nothing is. */
export function shapeProblem(shape: Shape): string | null {
  const out = "All of it lies outside the frame.";
  if (isShape(shape, "drawn")) {
    const { points } = shape;
    if (crossesItself(points)) return "It crosses itself: what it goes round twice is outside.";
    const { centre, half } = extentOf(points);
    const soft = shape.feather / 2 / LINES;
    const isOutside = (k: 0 | 1) => Math.abs(centre[k] - 0.5) - half[k] - soft > 0.5;
    return isOutside(0) || isOutside(1) ? out : null;
  }
  if (!isShape(shape, "ellipse", "box")) return null;
  const away = shape.centre.some((v) => Math.abs(v - 0.5) - reachOf(shape) > 0.5);
  return away ? out : null;
}

/** What is said of a matte that is a clip of another length. */
export const matteProblem = (matte: number | undefined, frames: number): string | null =>
  matte === undefined || matte === 1 || matte === frames
    ? null
    : `The matte has ${matte} frames and the clip ${frames}: after its last, that stays.`;

/** The picture a shape is found in, in words. */
export function ofWords(steps: Step[], shape: Shape): string {
  if (shape.of === "footage") return "the footage";
  const named = allSteps(steps).find((s) => s.id === shape.of);
  return named ? `what ${stepName(named)} makes` : "the picture before";
}
