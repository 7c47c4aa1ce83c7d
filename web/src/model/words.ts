/** A count with its word: "1 step", "2 steps". */
export const counted = (count: number, word: string) => `${count} ${word}${count === 1 ? "" : "s"}`;
