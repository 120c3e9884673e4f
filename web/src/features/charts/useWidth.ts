/** The width that an element has on the page, kept up to date. */
import { type RefObject, useEffect, useRef, useState } from "react";

export function useWidth(least: number, first = 1200): [RefObject<HTMLDivElement | null>, number] {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    if (!ref.current) return;
    const watcher = new ResizeObserver(
      ([entry]) => entry && setWidth(Math.max(least, entry.contentRect.width)),
    );
    watcher.observe(ref.current);
    return () => watcher.disconnect();
  }, [least]);
  return [ref, width];
}
