/** A count with its word: "1 step", "2 steps". */
export const countWords = (count: number, word: string) =>
  `${count} ${word}${count === 1 ? "" : "s"}`;

/** Bytes in words: "512 kB", "3.2 MB", "1.4 GB". */
export function fileSize(bytes: number): string {
  if (bytes < 999_500) return `${Math.max(1, Math.round(bytes / 1e3))} kB`;
  if (bytes < 999_500_000) return `${(bytes / 1e6).toFixed(1)} MB`;
  return `${(bytes / 1e9).toFixed(1)} GB`;
}

/** When something was done, in seconds since 1970: the time of today, else the day. */
export function when(seconds: number | null | undefined): string {
  if (!seconds) return "";
  const then = new Date(1000 * seconds);
  const today = then.toDateString() === new Date().toDateString();
  return today
    ? `today ${then.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false })}`
    : then.toLocaleDateString([], { day: "numeric", month: "short", year: "numeric" });
}

/** A number of so many digits; what rounds to nothing has no sign. */
export const formatFixed = (value: number, digits: number) =>
  value.toFixed(digits).replace(/^-(0(?:\.0*)?)$/, "$1");
