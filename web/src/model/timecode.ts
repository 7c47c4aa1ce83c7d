/** Minutes, seconds and frames: MM:SS:FF. */
export function timecode(frame: number, rate: number): string {
  const whole = Math.max(1, Math.round(rate));
  const pair = (n: number) => String(n).padStart(2, "0");
  const seconds = Math.floor(frame / whole);
  return `${pair(Math.floor(seconds / 60))}:${pair(seconds % 60)}:${pair(frame % whole)}`;
}
