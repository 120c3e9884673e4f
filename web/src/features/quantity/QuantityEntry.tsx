/** A figure of a form that is sent by a button: the form holds what was typed and how it was read. */
import { type ReactNode, type Ref, useState } from "react";
import { editable } from "../../format";
import { QuantityBox } from "./QuantityBox";
import { type Reading, readTyped } from "./reading";
import { fieldUnit, type QuantityName, usualOf } from "./usual";

export interface Typed {
  text: string;
  reading: Reading;
}

export const NOTHING: Typed = { text: "", reading: { is: "empty" } };

/** The value that was read; null where there is none to take, or where it is asked about first. */
export function valueOf(typed: Typed | undefined): number | null {
  return typed?.reading.is === "value" ? typed.reading.value : null;
}

/** Empty, or a value: nothing that has to be mended first. */
export function isFine(typed: Typed | undefined): boolean {
  return typed === undefined || typed.reading.is === "empty" || typed.reading.is === "value";
}

export function typedAs(name: QuantityName, text: string): Typed {
  return { text, reading: readTyped(text, usualOf(name)) };
}

/** A value that an instrument showed, as if it had been typed. */
export function typedValue(value: number, unit: string): Typed {
  return { text: editable(value, unit), reading: { is: "value", value } };
}

interface Props {
  name: QuantityName;
  label: string;
  typed: Typed;
  isWhole?: boolean;
  isNeeded?: boolean;
  hint?: string | undefined;
  error?: string | undefined;
  inputRef?: Ref<HTMLInputElement>;
  beside?: ReactNode;
  more?: ReactNode;
  /** Another thing that may be typed here, as "open" of a meter. */
  isWord?: (text: string) => boolean;
  onTyped: (typed: Typed) => void;
  onEnter?: () => void;
}

export function QuantityEntry(props: Props) {
  const { name, label, typed, isWhole = false, isNeeded = false, hint, error, onTyped, onEnter } = props;
  const usual = usualOf(name);
  const [isLeft, setLeft] = useState(true);
  const isWord = props.isWord?.(typed.text) ?? false;
  const leave = () => {
    setLeft(true);
    // A bare number gets the unit that it was read with.
    if (typed.reading.is === "value" && usual.unit !== "1" && /^[\d.,]+$/.test(typed.text.trim()))
      onTyped({ ...typed, text: `${typed.text.trim()} ${fieldUnit(usual)}` });
  };
  return (
    <QuantityBox
      label={label}
      usual={usual}
      isWhole={isWhole}
      isNeeded={isNeeded && typed.reading.is !== "value"}
      read={isLeft && !isWord ? typed.reading : null}
      error={error}
      beside={props.beside}
      more={props.more}
      onAnswer={(value) => onTyped(typedValue(value, usual.unit))}
      input={{
        ref: props.inputRef,
        value: typed.text,
        placeholder: hint,
        onBlur: leave,
        onKeyDown: (event) => {
          if (event.key !== "Enter") return;
          setLeft(true);
          onEnter?.();
        },
        onChange: (event) => {
          setLeft(false);
          const text = event.target.value;
          onTyped({ text, reading: readTyped(text, usual, isWhole) });
        },
      }}
    />
  );
}
