import type { Look, Setting, SettingValue, Sheet, Span, Step } from "../api/client";
import { withValue } from "./keyframes";
import { findStep, withStep } from "./lookTree";

/** Proof sheets: one thing of a look changed many ways, on one shot or several. */

export type Subject = Sheet["subject"];

export const FEWEST = 3;
export const MOST = 64;

/** The values of a span, whole where they have to be; none twice. */
export function valuesOf({ low, high, count, way }: Span, whole: boolean): number[] {
  const at = (part: number) =>
    way === "by ratio" && low > 0 ? low * (high / low) ** part : low + (high - low) * part;
  const values = Array.from({ length: count }, (_, i) => at(i / Math.max(count - 1, 1)));
  const rounded = values.map((v) => (whole ? Math.round(v) : Number(v.toPrecision(4))));
  return [...new Set(rounded)];
}

/** A span half as wide about a value, within the limits. */
export function closer(span: Span, value: number, limits: [number, number]): Span {
  const [minimum, maximum] = limits;
  if (span.way === "by ratio" && span.low > 0 && value > 0) {
    const half = (span.high / span.low) ** 0.25;
    return { ...span, low: Math.max(value / half, minimum), high: Math.min(value * half, maximum) };
  }
  const half = (span.high - span.low) / 4;
  return { ...span, low: Math.max(value - half, minimum), high: Math.min(value + half, maximum) };
}

/** The first span of a setting: all that its control reaches, within what it can be. */
export function firstSpan(setting: Pick<Setting, "soft_minimum" | "soft_maximum">): Span {
  const { soft_minimum: low, soft_maximum: high } = setting;
  return { low: low ?? 0, high: high ?? 1, count: 9, way: "even" };
}

/** The look with a value in place of a step's, at a frame where that is keyed. */
export function withVariant(
  look: Look,
  step: string,
  name: string,
  value: SettingValue,
  frame: number,
): Look {
  const change = (s: Step): Step =>
    name.startsWith("mix.") && name !== "mix.amount"
      ? { ...s, mix: { ...s.mix, [name.slice(4)]: value } }
      : withValue(s, name, value, frame);
  return { ...look, steps: withStep(look.steps, step, change) };
}

/** What a step has there now. */
export function valueNow(look: Look, step: string, name: string): SettingValue | undefined {
  const found = findStep(look.steps, step);
  if (!found) return undefined;
  const fields: Record<string, unknown> = name.startsWith("mix.") ? found.mix : found.settings;
  return fields[name.replace(/^mix\./, "")] as SettingValue | undefined;
}

/** The numbers of cells, those nearest to the middle of their rows and columns first. */
export function fromTheMiddle(columns: number, count: number): number[] {
  const rows = Math.ceil(count / columns);
  const distanceFrom = (n: number) =>
    Math.hypot((n % columns) - (columns - 1) / 2, Math.floor(n / columns) - (rows - 1) / 2);
  return Array.from({ length: count }, (_, n) => n).sort(
    (a, b) => distanceFrom(a) - distanceFrom(b) || a - b,
  );
}

/** In how many columns so many cells of a shape are largest, and how wide they are then. */
export function arrangeCells(
  count: number,
  ratio: number,
  room: { width: number; height: number },
  caption: number,
  gap: number,
): { columns: number; width: number } {
  let best = { columns: 1, width: 0 };
  for (let columns = 1; columns <= count; columns += 1) {
    const rows = Math.ceil(count / columns);
    const across = (room.width - gap * (columns - 1)) / columns;
    const down = ((room.height - gap * (rows - 1)) / rows - caption) * ratio;
    const width = Math.floor(Math.min(across, down));
    if (width > best.width) best = { columns, width };
  }
  return best;
}
