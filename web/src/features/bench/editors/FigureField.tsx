/** One figure: value with prefix and unit, its range and where it is from. */
import { useEffect, useId, useState } from "react";
import { editable, engineering, readQuantity } from "../../../format";
import { texts } from "../../../texts/en";
import { asFigure, type Figure, type Kind } from "../draft";

type Field = Kind["fields"][number];

interface Props {
  field: Field;
  entry: unknown;
  error: string | undefined;
  onChange: (figure: Figure | number | null) => void;
}

/** A sheet entry with its word, if it is one, replaced by the word's place. */
function placed(entry: unknown, field: Field): unknown {
  const word =
    typeof entry === "string" ? entry : (entry as { typical?: unknown } | null | undefined)?.typical;
  const place = field.words.findIndex((known) => known.word === word);
  if (place < 0) return entry;
  return typeof entry === "string"
    ? place
    : { ...(entry as object), low: place, typical: place, high: place };
}

export function FigureField({ field, entry, error, onChange }: Props) {
  const id = useId();
  const figure = asFigure(placed(entry, field)) ?? (field.default === null ? null : asFigure(field.default));
  const shown = figure ? editable(figure.typical, field.unit) : "";
  const [typed, setTyped] = useState(shown);
  const [wrong, setWrong] = useState(false);
  useEffect(() => {
    setTyped(shown);
    setWrong(false);
  }, [shown]);

  const read = (text: string) => {
    setTyped(text);
    if (text.trim() === "" && field.optional) {
      setWrong(false);
      onChange(null);
      return;
    }
    const value = readQuantity(text, field.unit);
    setWrong(value === null);
    if (value === null || value === figure?.typical) return;
    if (field.integer && field.words.length === 0) onChange(value);
    else
      onChange({
        low: value,
        typical: value,
        high: value,
        source: figure?.source ?? "assumed",
        note: texts.parts.typed,
      });
  };
  const hasRange = figure !== null && figure.low < figure.high;
  const said = wrong ? texts.parts.notANumber : error;
  return (
    <div className={`figure-field${said ? " is-wrong" : ""}`}>
      <label htmlFor={id}>{field.label}</label>
      {field.words.length > 0 ? (
        <select
          id={id}
          value={figure ? String(figure.typical) : ""}
          aria-describedby={`${id}-more`}
          onChange={(event) => read(event.target.value)}
        >
          <option value="">{texts.parts.notSaid}</option>
          {field.words.map((word, place) => (
            <option key={word.word} value={String(place)}>
              {word.label}
            </option>
          ))}
        </select>
      ) : (
        <input
          id={id}
          className="figure"
          inputMode={field.integer ? "numeric" : "text"}
          value={typed}
          placeholder={field.optional ? "–" : ""}
          aria-invalid={said ? true : undefined}
          aria-describedby={`${id}-more`}
          onChange={(event) => read(event.target.value)}
          onBlur={() => !wrong && setTyped(shown)}
        />
      )}
      {(!field.integer || field.words.length > 0) && figure !== null && (
        <select
          aria-label={`${texts.parts.source}: ${field.label}`}
          value={figure.source}
          onChange={(event) => onChange({ ...figure, source: event.target.value })}
        >
          {Object.entries(texts.parts.sources).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      )}
      <span id={`${id}-more`} className="figure-more">
        {said ??
          (hasRange
            ? `${engineering(figure.low, field.unit)} to ${engineering(figure.high, field.unit)}${figure.note ? `, ${figure.note}` : ""}`
            : (figure?.note ?? ""))}
      </span>
    </div>
  );
}
