/** Looks at one thing, one shown at a time; arrow keys move between them. */
import { type KeyboardEvent, type ReactNode, useRef } from "react";

interface Props<T extends string> {
  /** Prefix of the identities in the page. */
  id: string;
  label: string;
  names: readonly T[];
  words: Record<T, string>;
  chosen: T;
  onChoose: (name: T) => void;
  children: ReactNode;
}

export function Tabs<T extends string>({ id, label, names, words, chosen, onChoose, children }: Props<T>) {
  const list = useRef<HTMLDivElement>(null);
  const move = (event: KeyboardEvent) => {
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    const next = names[(names.indexOf(chosen) + step + names.length) % names.length];
    if (step === 0 || next === undefined) return;
    event.preventDefault();
    onChoose(next);
    list.current?.querySelector<HTMLElement>(`#${id}-${next}`)?.focus();
  };
  return (
    <>
      <div className="tabs" role="tablist" aria-label={label} ref={list} onKeyDown={move}>
        {names.map((name) => (
          <button
            key={name}
            type="button"
            role="tab"
            id={`${id}-${name}`}
            tabIndex={name === chosen ? 0 : -1}
            aria-selected={name === chosen}
            aria-controls={`${id}-panel`}
            onClick={() => onChoose(name)}
          >
            {words[name]}
          </button>
        ))}
      </div>
      <div id={`${id}-panel`} role="tabpanel" aria-labelledby={`${id}-${chosen}`} className="tab-panel">
        {children}
      </div>
    </>
  );
}
