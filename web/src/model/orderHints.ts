import type { Step, Treatment } from "../api/client";

/** What an unusual order of the path does, and which step would go where to mend it. */
export interface OrderHint {
  /** The step it is said of. */
  id: string;
  says: string;
  /** The place in the row that mends it. */
  to: number;
}

const MARKS = ["grain", "dust", "static", "lines", "halftone"];
const BARS = ["letterbox", "border", "crop"];

/**
 * Hints on a row of steps: nothing is forbidden, the path only says what happens.
 *
 * The order is the one light meets things (time, glass, light, colour, ink & signal, film, gate);
 * what a step does to those before it is common practice, no source.
 */
export function orderHints(row: Step[], treatments: Treatment[]): OrderHint[] {
  const stage = (step: Step) => treatments.find((t) => t.kind === step.treatment)?.stage;
  const hints: OrderHint[] = [];
  row.forEach((step, at) => {
    if (!step.on || (step.mix.input ?? "previous") !== "previous") return;
    const before = row.slice(0, at).filter((s) => s.on);
    const firstOf = (is: (s: Step) => boolean) => before.find(is);
    const hint = (other: Step | undefined, says: (of: string) => string) => {
      if (!other || hints.some((h) => h.id === step.id)) return;
      hints.push({ id: step.id, says: says(other.treatment), to: row.indexOf(other) });
    };
    if (step.treatment === "sharpen")
      hint(
        firstOf((s) => MARKS.includes(s.treatment) || BARS.includes(s.treatment)),
        (of) => (BARS.includes(of) ? `sharpens the ${of}'s edges` : `sharpens the ${of}`),
      );
    if (step.treatment === "soften" || step.treatment === "focus")
      hint(
        firstOf((s) => MARKS.includes(s.treatment)),
        (of) => `blurs the ${of}`,
      );
    if (stage(step) === "colour")
      hint(
        firstOf((s) => s.treatment === "letterbox" || s.treatment === "border"),
        (of) => (of === "letterbox" ? "grades the bars too" : "grades the border too"),
      );
    if (step.treatment === "weave")
      hint(
        firstOf((s) => s.treatment === "border" || s.treatment === "letterbox"),
        (of) => (of === "letterbox" ? "sways the bars too" : "sways the border too"),
      );
    if (step.treatment === "glow" || step.treatment === "halation")
      hint(
        firstOf((s) => MARKS.includes(s.treatment)),
        (of) => `lets the ${of} shine`,
      );
  });
  return hints;
}
