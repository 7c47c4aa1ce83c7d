/** The value below which half of what was counted lies, of counts over 0..1. */
export function medianOf(counts: number[]): number {
  const half = counts.reduce((sum, count) => sum + count, 0) / 2;
  let below = 0;
  for (const [bin, count] of counts.entries()) {
    if (below + count >= half && count > 0) return (bin + (half - below) / count) / counts.length;
    below += count;
  }
  return 0.5;
}

/** Black and white points as far apart as they are that make a value mid-grey. */
export function aboutMidGrey(value: number, black: number, white: number) {
  const around = (white - black) / 2;
  const roundPoint = (point: number) => Math.round(1000 * point) / 1000;
  return { black: roundPoint(value - around), white: roundPoint(value + around) };
}
