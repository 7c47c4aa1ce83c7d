/** A length of time in words: 40 s, 3 min 20 s, 2 h 5 min. */
export function duration(seconds: number): string {
  const whole = Math.ceil(seconds);
  if (whole < 60) return `${whole} s`;
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${whole % 60} s`;
  return `${Math.floor(whole / 3600)} h ${Math.floor((whole % 3600) / 60)} min`;
}
