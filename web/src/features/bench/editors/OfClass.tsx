/** The frame of "only its class is known": which class, what else is known, and its typical figures. */
import type { ReactNode } from "react";
import { texts } from "../../../texts";

const words = texts.shelf.typical_;

interface Props {
  label: string;
  classes: readonly { value: string; text: string }[];
  chosen: string;
  isOpen: boolean;
  isReady: boolean;
  error: Error | null;
  onChoose: (value: string) => void;
  onTake: () => void;
  /** What else may be known. */
  children?: ReactNode;
}

export function OfClass({
  label,
  classes,
  chosen,
  isOpen,
  isReady,
  error,
  onChoose,
  onTake,
  children,
}: Props) {
  return (
    <details className="typical-lamp" open={isOpen}>
      <summary>{words.title}</summary>
      <p className="quiet">{words.lead}</p>
      <div className="narrow-form">
        <select aria-label={label} value={chosen} onChange={(event) => onChoose(event.target.value)}>
          <option value="">{texts.quantity.choose}</option>
          {classes.map((entry) => (
            <option key={entry.value} value={entry.value}>
              {entry.text}
            </option>
          ))}
        </select>
        {children}
        <button type="button" className="outlined" disabled={chosen === "" || !isReady} onClick={onTake}>
          {words.put}
        </button>
      </div>
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
    </details>
  );
}
