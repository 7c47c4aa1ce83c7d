import type { Setting } from "../api/client";
import { formatFixed } from "./words";

/** How units are called after a number. */
const UNITS: Partial<Record<Setting["unit"], string>> = {
  "px@1080": "px of 1080 lines",
  frames: "frames",
  degrees: "°",
  stops: "stops",
  factor: "×",
  pace: "in 24 frames",
  "per second": "in 24 frames",
  speed: "×",
};

/** What a setting can be, in words: its range with the unit, its choices, or that it is a switch. */
export function rangeWords(setting: Setting): string {
  if (setting.unit === "choice") return (setting.choices ?? []).join(", ");
  if (setting.unit === "switch") return "on or off";
  const { soft_minimum: low, soft_maximum: high } = setting;
  if (low == null || high == null) return "";
  const share = setting.unit === "fraction" || setting.unit === "place";
  const valueWords = (v: number) => (share ? formatFixed(100 * v, 0) : String(v));
  const unit = share ? "%" : (UNITS[setting.unit] ?? "");
  return `${valueWords(low)} to ${valueWords(high)} ${unit}`.trim();
}
