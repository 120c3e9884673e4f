/** A value once it has not changed for a while, so that typing does not ask for an answer at every key. */
import { useEffect, useState } from "react";

export function useRested<T>(value: T, rest_ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), rest_ms);
    return () => clearTimeout(timer);
  }, [value, rest_ms]);
  return rested;
}
