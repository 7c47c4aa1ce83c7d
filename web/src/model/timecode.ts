/** Hours, minutes, seconds and frames as SMPTE ST 12-1 writes them, without dropped numbers: HH:MM:SS:FF. */
export function timecode(frame: number, rate: number): string {
  const whole = Math.max(1, Math.round(rate));
  const pair = (n: number) => String(n).padStart(2, "0");
  const seconds = Math.floor(frame / whole);
  const minutes = Math.floor(seconds / 60);
  return [Math.floor(minutes / 60), minutes % 60, seconds % 60, frame % whole].map(pair).join(":");
}
