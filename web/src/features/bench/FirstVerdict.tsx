/** The way to the first verdict of a gang: what it needs, what is there, and a press to the next. */
import { useEffect, useRef } from "react";
import { texts } from "../../texts";
import type { Draft } from "./draft";
import type { Step, Tab } from "./steps";

const words = texts.firstVerdict;

interface Props {
  draft: Draft;
  /** The record has a verdict, and nothing is on the bench that it is not of. */
  isKept: boolean;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
  onKeep: () => void;
}

export function FirstVerdict({ draft, isKept, mayEdit, onGo, onKeep }: Props) {
  const has = { lamps: draft.lamps.length > 0, control: draft.control !== null };
  const next = !has.lamps ? "lamps" : !has.control ? "control" : "keep";
  const button = useRef<HTMLButtonElement>(null);
  // Whoever goes by keys goes on by Enter: the next step has the focus when the one before is done, and at the
  // beginning where nothing else has it.
  const before = useRef<string | null>(null);
  useEffect(() => {
    const isFree = document.activeElement === document.body;
    const isDue = before.current === null ? isFree : before.current !== next;
    before.current = next;
    if (!isDue) return;
    // After the editor, which would put it on the part that was added.
    const timer = setTimeout(() => button.current?.focus(), 0);
    return () => clearTimeout(timer);
  }, [next]);
  if (isKept || !mayEdit) return null;
  const press = {
    lamps: () => onGo("parts", "lamps"),
    control: () => onGo("parts", "control"),
    keep: onKeep,
  };
  const done = (name: keyof typeof press) => name !== "keep" && has[name];
  return (
    <nav className="first-verdict" aria-label={words.title}>
      <b>{words.title}</b>
      <ol>
        {(["lamps", "control", "keep"] as const).map((name) => (
          <li key={name} className={done(name) ? "is-done" : undefined}>
            <button
              type="button"
              ref={name === next ? button : undefined}
              className={name === next ? "solid" : "plain"}
              disabled={name === "keep" && next !== "keep"}
              onClick={press[name]}
            >
              {done(name) && <span aria-hidden="true">✓ </span>}
              {done(name) ? words.done[name as "lamps" | "control"] : words.steps[name]}
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
