/** A part of the drawing that opens its editor. */
import type { KeyboardEvent, ReactNode } from "react";

interface SpotProps {
  label: string;
  isOpen: boolean;
  onOpen: () => void;
  children: ReactNode;
}

export function Spot({ label, isOpen, onOpen, children }: SpotProps) {
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      onOpen();
    }
  };
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={isOpen}
      className={isOpen ? "spot is-open" : "spot"}
      onClick={onOpen}
      onKeyDown={onKeyDown}
    >
      {children}
    </g>
  );
}
