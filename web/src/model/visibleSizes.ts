import type { Setting, Step, Treatment } from "../api/client";

/** The smallest value of a size, in px@1080, that is seen on footage of so many lines, in halves; null where
 * all are. */
export function minVisibleSize(setting: Setting, lines: number): number | null {
  return setting.visible_from == null
    ? null
    : Math.ceil((2 * setting.visible_from * 1080) / lines) / 2;
}

/** A step none of whose sizes is too fine for footage of so many lines; what is keyed stays. */
export function withVisibleSizes(step: Step, treatments: Treatment[], lines: number): Step {
  const settings = treatments.find((t) => t.kind === step.treatment)?.settings ?? [];
  const larger = settings.flatMap((setting): [string, number][] => {
    const minimum = minVisibleSize(setting, lines);
    const small =
      minimum !== null && Number(step.settings[setting.name] ?? setting.default) < minimum;
    return small && !step.keys?.[setting.name] ? [[setting.name, minimum]] : [];
  });
  if (!larger.length) return step;
  return { ...step, settings: { ...step.settings, ...Object.fromEntries(larger) } };
}
