/** Ranges of neighbouring numbers: first, and one past the last. */
export function runs(numbers: Set<number>): [number, number][] {
  const found: [number, number][] = [];
  for (const n of [...numbers].sort((a, b) => a - b)) {
    const last = found.at(-1);
    if (last && last[1] === n) last[1] = n + 1;
    else found.push([n, n + 1]);
  }
  return found;
}
