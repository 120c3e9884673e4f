/** What a value is by now, for an answer that comes after the page was drawn. */
import { type RefObject, useRef } from "react";

export function useLatest<T>(value: T): RefObject<T> {
  const latest = useRef(value);
  latest.current = value;
  return latest;
}
