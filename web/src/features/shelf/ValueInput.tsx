/** A figure to type, or to choose where it is one of some words. */
import { useId } from "react";
import { texts } from "../../texts";
import { QuantityEntry, type Typed } from "../quantity/QuantityEntry";
import { quantityName } from "../quantity/usual";

interface Props {
  /** Of the figure; one of a control's feed is named after it, as in "standby.p_w". */
  name: string;
  label: string;
  words: readonly { word: string; label: string }[];
  typed: Typed;
  isNeeded?: boolean;
  onTyped: (typed: Typed) => void;
}

export function ValueInput({ name, label, words, typed, isNeeded = false, onTyped }: Props) {
  const id = useId();
  if (words.length === 0)
    return (
      <QuantityEntry
        name={quantityName(name)}
        label={label}
        typed={typed}
        isNeeded={isNeeded}
        onTyped={onTyped}
      />
    );
  return (
    <span className="field">
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        value={typed.text}
        onChange={(event) => {
          const text = event.target.value;
          onTyped({ text, reading: text === "" ? { is: "empty" } : { is: "value", value: Number(text) } });
        }}
      >
        <option value="">{texts.parts.notSaid}</option>
        {words.map((word, place) => (
          <option key={word.word} value={String(place)}>
            {word.label}
          </option>
        ))}
      </select>
    </span>
  );
}
