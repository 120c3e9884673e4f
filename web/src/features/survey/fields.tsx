/** Small fields of the survey: a list to choose from, a yes-no-unknown, a length. */
import { useEffect, useId, useRef, useState } from "react";
import { editable, readQuantity } from "../../format";
import { texts } from "../../texts/en";
import type { Choice } from "./queries";

interface PickProps {
  label: string;
  value: string;
  choices: readonly Choice[];
  error?: string | undefined;
  onPick: (value: string) => void;
}

export function Pick({ label, value, choices, error, onPick }: PickProps) {
  const id = useId();
  return (
    <div className={`field${error ? " is-wrong" : ""}`}>
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        value={value}
        aria-invalid={error ? true : undefined}
        aria-describedby={`${id}-more`}
        onChange={(event) => onPick(event.target.value)}
      >
        {choices.map((choice) => (
          <option key={choice.value} value={choice.value}>
            {choice.text}
          </option>
        ))}
      </select>
      <FieldMore id={`${id}-more`} text={error} />
    </div>
  );
}

/** What is wrong with a field, below it. */
export function FieldMore({ id, text }: { id: string; text: string | undefined }) {
  return text ? (
    <span id={id} className="field-more">
      {text}
    </span>
  ) : null;
}

const ANSWERS: readonly Choice[] = [
  { value: "", text: texts.survey.notKnown },
  { value: "yes", text: texts.survey.yes },
  { value: "no", text: texts.survey.no },
];

interface AnswerProps {
  label: string;
  value: boolean | null;
  onPick: (value: boolean | null) => void;
}

export function Answer({ label, value, onPick }: AnswerProps) {
  return (
    <Pick
      label={label}
      value={value === null ? "" : value ? "yes" : "no"}
      choices={ANSWERS}
      onPick={(picked) => onPick(picked === "" ? null : picked === "yes")}
    />
  );
}

interface QuantityProps {
  label: string;
  unit: string;
  value: number | null;
  error?: string | undefined;
  isWhole?: boolean;
  hint?: string;
  onChange: (value: number | null) => void;
}

export function QuantityField({ label, unit, value, error, isWhole = false, hint, onChange }: QuantityProps) {
  const id = useId();
  const show = (given: number | null) =>
    given === null ? "" : isWhole ? String(given) : editable(given, unit);
  const [typed, setTyped] = useState(show(value));
  const [wrong, setWrong] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    // Never rewritten under the fingers: what is typed stays as it is typed until the field is left.
    if (document.activeElement === field.current) return;
    setTyped(show(value));
    setWrong(false);
    // Only another value from outside replaces what is typed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [value]);
  const read = (text: string) => {
    setTyped(text);
    const found = text.trim() === "" ? null : readQuantity(text, unit);
    setWrong(text.trim() !== "" && found === null);
    if (text.trim() === "" || found !== null) onChange(found);
  };
  const said = wrong ? texts.parts.notANumber : error;
  return (
    <div className={`field${said ? " is-wrong" : ""}`}>
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        ref={field}
        className="figure"
        value={typed}
        onBlur={() => !wrong && setTyped(show(value))}
        placeholder={hint}
        inputMode={isWhole ? "numeric" : "text"}
        aria-invalid={said ? true : undefined}
        aria-describedby={`${id}-more`}
        onChange={(event) => read(event.target.value)}
      />
      <FieldMore id={`${id}-more`} text={said} />
    </div>
  );
}

export function Tick({
  label,
  isOn,
  disabled = false,
  onChange,
}: {
  label: string;
  isOn: boolean;
  disabled?: boolean;
  onChange: (isOn: boolean) => void;
}) {
  return (
    <label className="tick">
      <input
        type="checkbox"
        checked={isOn}
        disabled={disabled}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}
