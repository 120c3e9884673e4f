/** The way to the first verdict of a gang: what it needs, what is there, and a press to the next. */
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
  if (isKept || !mayEdit) return null;
  const has = { lamps: draft.lamps.length > 0, control: draft.control !== null };
  const next = !has.lamps ? "lamps" : !has.control ? "control" : "keep";
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
