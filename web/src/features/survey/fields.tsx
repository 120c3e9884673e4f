/** Small fields of the survey: a list to choose from, a yes-no-unknown, a tick. */
import { useId } from "react";
import { texts } from "../../texts";
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
