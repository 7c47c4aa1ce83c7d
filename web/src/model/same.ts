/** Whether two values are written alike. */
export const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);
