/** A figure of something on record or on the bench: read on leaving the field or on Enter, one edit at a time. */
import { type ReactNode, useState } from "react";
import { editable } from "../../format";
import { QuantityBox } from "./QuantityBox";
import { type Reading, readTyped } from "./reading";
import { type QuantityName, usualOf } from "./usual";
import { useTyped } from "./useTyped";

interface Props {
  /** Its name in the table of usual quantities. */
  name: QuantityName;
  label: string;
  /** The whole name, where the one on the screen is short. */
  spoken?: string;
  value: number | null;
  isWhole?: boolean;
  isNeeded?: boolean;
  isDisabled?: boolean;
  error?: string | undefined;
  hint?: string | undefined;
  beside?: ReactNode;
  more?: ReactNode;
  /** Null where the field was emptied. */
  onChange: (value: number | null) => void;
}

export function QuantityInput(props: Props) {
  const { name, label, value, isWhole = false, isNeeded = false, isDisabled, error, hint, onChange } = props;
  const usual = usualOf(name);
  const [read, setRead] = useState<Reading | null>(null);
  const take = (taken: number | null) => {
    setRead(null);
    if (taken !== value) onChange(taken);
    return true;
  };
  const typed = useTyped({
    shown: value === null ? "" : isWhole ? String(value) : editable(value, usual.unit),
    onRead: (text) => {
      const reading = readTyped(text, usual, isWhole);
      if (reading.is === "value") return take(reading.value);
      if (reading.is === "empty" && !isNeeded) return take(null);
      setRead(reading.is === "empty" ? { is: "wrong", why: "needed" } : reading);
      return false;
    },
  });
  return (
    <QuantityBox
      label={label}
      spoken={props.spoken}
      usual={usual}
      isWhole={isWhole}
      isNeeded={isNeeded && value === null}
      read={typed.text === null ? null : read}
      error={error}
      beside={props.beside}
      more={props.more}
      onAnswer={(answer) => {
        typed.setText(null);
        take(answer);
      }}
      input={{
        ...typed.field,
        disabled: isDisabled,
        placeholder: hint,
        onChange: (event) => {
          setRead(null);
          typed.setText(event.target.value);
        },
      }}
    />
  );
}
