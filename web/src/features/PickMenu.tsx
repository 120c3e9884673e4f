/** A list that does at once what is picked from it, and then shows its first line again. */
import type { KeyboardEvent, ReactNode } from "react";

interface Props {
  /** Unless a label around it names it. */
  label?: string;
  /** What stands there while nothing is picked. */
  first: string;
  isDisabled?: boolean;
  id?: string;
  onPick: (value: string) => void;
  /** The options. */
  children: ReactNode;
}

export function PickMenu({ label, first, isDisabled = false, id, onPick, children }: Props) {
  return (
    <select
      id={id}
      aria-label={label}
      value=""
      disabled={isDisabled}
      onKeyDown={opened}
      onChange={(event) => event.target.value && onPick(event.target.value)}
    >
      <option value="">{first}</option>
      {children}
    </select>
  );
}

/** A key that would take the next line unseen opens the list instead: only what is chosen there is done. */
function opened(event: KeyboardEvent<HTMLSelectElement>) {
  const goesOn = event.key.startsWith("Arrow") || ["Home", "End", "PageUp", "PageDown"].includes(event.key);
  const isLetter = event.key.length === 1 && event.key !== " ";
  if (event.ctrlKey || event.metaKey || event.altKey || !(goesOn || isLetter)) return;
  // A browser that cannot be asked to opens it by itself on such a key.
  if (!("showPicker" in event.currentTarget)) return;
  event.preventDefault();
  event.currentTarget.showPicker();
}
