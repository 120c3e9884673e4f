/** After a part is added or taken away the focus is where the eye is: at that part, or at the button to add one. */
import { type RefObject, useCallback, useLayoutEffect, useRef } from "react";
import { isFieldFocused } from "../../../app/keys";

/** Where nothing was added after all: back to the button. */
export const TO_ADD = -1;

export function useFocusNext(editor: RefObject<HTMLElement | null>, count: number, isAdding: boolean) {
  const next = useRef<number | null>(null);
  // In the moment the part is put there: between that and a later effect a field may be clicked. A part that was
  // asked for may also come late, when somebody types in another one already.
  useLayoutEffect(() => {
    const place = next.current;
    next.current = null;
    if (place === null || isFieldFocused()) return;
    const parts = editor.current?.querySelectorAll(".part") ?? [];
    const part = place === TO_ADD ? undefined : parts[Math.min(place, parts.length - 1)];
    const target = (part ?? editor.current)?.querySelector<HTMLElement>(part ? "input" : "button.add");
    target?.focus();
  }, [count, isAdding, editor]);
  return useCallback((place: number) => {
    next.current = place;
  }, []);
}
