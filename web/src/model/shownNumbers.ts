import type { Setting } from "../api/client";
import { formatFixed } from "./words";

/** Numbers of settings as the page shows them: a fraction in percent, the rest as they are. */

export const UNITS: Partial<Record<Setting["unit"], string>> = {
  fraction: "%",
  "px@1080": "px",
  frames: "fr",
  degrees: "°",
  stops: "stops",
  factor: "×",
  pace: "/s",
  "per second": "/s",
  speed: "×",
  frame: "fr",
};

/** How a number of a unit is shown: its factor, step and digits. */
export function shownAs(setting: Setting) {
  const high = setting.soft_maximum ?? 1;
  if (setting.unit === "fraction") {
    const fine = high <= 0.2;
    return { scale: 100, step: fine ? 0.1 : 1, digits: fine ? 1 : 0 };
  }
  if (setting.unit === "px@1080" && high <= 20) return { scale: 1, step: 0.1, digits: 1 };
  if (setting.unit === "per second" || (setting.unit === "count" && high <= 20))
    return { scale: 1, step: high <= 20 ? 0.1 : 1, digits: high <= 20 ? 1 : 0 };
  if (["ratio", "pace", "speed"].includes(setting.unit)) return { scale: 1, step: 0.01, digits: 2 };
  if (setting.unit === "factor" || setting.unit === "channels" || setting.unit === "stops")
    return { scale: 1, step: setting.unit === "stops" ? 0.05 : 0.01, digits: 2 };
  return { scale: 1, step: 1, digits: 0 };
}

/** A setting's number with its unit; empty for what is no number. */
export function inNumbers(setting: Setting, value: unknown): string {
  if (typeof value !== "number") return "";
  const { scale, digits } = shownAs(setting);
  return `${formatFixed(value * scale, digits)} ${UNITS[setting.unit] ?? ""}`.trim();
}
