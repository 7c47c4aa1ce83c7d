import { useEffect, useState } from "react";

/** A value once it has not changed for so many milliseconds. */
export function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(() => value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}
