/** After a part is added or taken away the focus is where the eye is: at that part, or at the button to add one. */
import { type RefObject, useCallback, useEffect, useRef } from "react";

export function useFocusNext(editor: RefObject<HTMLElement | null>, count: number) {
  const next = useRef<number | null>(null);
  useEffect(() => {
    const place = next.current;
    next.current = null;
    if (place === null) return;
    const parts = editor.current?.querySelectorAll(".part") ?? [];
    const part = parts[Math.min(place, parts.length - 1)];
    const target = (part ?? editor.current)?.querySelector<HTMLElement>(part ? "input" : "button.add");
    target?.focus();
  }, [count, editor]);
  return useCallback((place: number) => {
    next.current = place;
  }, []);
}
