import type { Grade, Step } from "../api/client";

/** The settings of a balance step that grades as an ASC CDL does. */
export const settingsOfGrade = ({ slope, offset, power, saturation }: Grade): Step["settings"] => ({
  mode: "cdl",
  slope: slope as number[],
  offset: offset as number[],
  power: power as number[],
  saturation: saturation as number,
});
