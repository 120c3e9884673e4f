/** One figure of a part: value with unit, its range and where it is from. */
import { type ReactNode, useId, useState } from "react";
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { QuantityInput } from "../../quantity/QuantityInput";
import { SourceOptions } from "../../quantity/SourceOptions";
import { quantityName } from "../../quantity/usual";
import { asFigure, type Figure, type Kind } from "../draft";

type Field = Kind["fields"][number];

const words = texts.quantity;

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

/** A value put in by hand: without range, and assumed until somebody says where it is from. */
function byHand(value: number): Figure {
  return { low: value, typical: value, high: value, source: "assumed", note: texts.parts.typed };
}

export function FigureField({ field, entry, error, onChange }: Props) {
  const figure = asFigure(placed(entry, field)) ?? (field.default === null ? null : asFigure(field.default));
  const [isAsked, setAsked] = useState(false);
  const isCount = field.integer && field.words.length === 0;
  const put = (value: number | null) => {
    setAsked(value !== null && !isCount);
    onChange(value === null || isCount ? value : byHand(value));
  };
  const source = figure !== null && !isCount && (
    <SourceChoice
      label={field.label}
      // Another part in this place brings its own sources along.
      source={
        isAsked && figure.source === "assumed" && figure.note === texts.parts.typed ? "" : figure.source
      }
      onChoose={(chosen) => {
        setAsked(false);
        onChange({ ...figure, source: chosen });
      }}
    />
  );
  if (field.words.length > 0)
    return (
      <WordChoice field={field} figure={figure} error={error} onPut={put}>
        {source}
      </WordChoice>
    );
  return (
    <div className="figure-field">
      <QuantityInput
        name={quantityName(field.name)}
        label={field.label}
        value={figure?.typical ?? null}
        isWhole={field.integer}
        isNeeded={!field.optional && field.default === null}
        error={error}
        hint={field.optional ? "–" : undefined}
        beside={source}
        more={figure?.note ?? ""}
        onChange={put}
      />
      {figure !== null && !isCount && <Range field={field} figure={figure} onChange={onChange} />}
    </div>
  );
}

interface SourceProps {
  label: string;
  /** Empty while it is asked. */
  source: string;
  onChoose: (source: string) => void;
}

function SourceChoice({ label, source, onChoose }: SourceProps) {
  return (
    <select
      aria-label={`${texts.parts.source}: ${label}`}
      className={source === "" ? "is-asked" : undefined}
      value={source}
      onChange={(event) => onChoose(event.target.value)}
    >
      {source === "" && <option value="">{words.source}</option>}
      <SourceOptions />
    </select>
  );
}

/** Lowest and highest; opened by hand where another is wanted. */
function Range({ field, figure, onChange }: { field: Field; figure: Figure; onChange: Props["onChange"] }) {
  const hasRange = figure.low < figure.high;
  const [isOpen, setOpen] = useState(false);
  if (!isOpen)
    return (
      <button
        type="button"
        className="plain range-open"
        aria-label={`${words.range}: ${field.label}`}
        onClick={() => setOpen(true)}
      >
        {hasRange
          ? say(words.between, {
              low: engineering(figure.low, field.unit),
              high: engineering(figure.high, field.unit),
            })
          : `+ ${words.range}`}
      </button>
    );
  return (
    <div className="figure-range">
      {(["low", "high"] as const).map((end) => (
        <QuantityInput
          key={end}
          name={quantityName(field.name)}
          label={words[end]}
          spoken={`${field.label}, ${words[end]}`}
          value={figure[end]}
          isNeeded
          onChange={(value) => value !== null && onChange({ ...figure, [end]: value })}
        />
      ))}
    </div>
  );
}

interface WordProps {
  field: Field;
  figure: Figure | null;
  error: string | undefined;
  onPut: (place: number | null) => void;
  children: ReactNode;
}

function WordChoice({ field, figure, error, onPut, children }: WordProps) {
  const id = useId();
  return (
    <div className={`figure-field${error ? " is-wrong" : ""}`}>
      <span className="field">
        <label htmlFor={id}>{field.label}</label>
        <select
          id={id}
          value={figure ? String(figure.typical) : ""}
          onChange={(event) => onPut(event.target.value === "" ? null : Number(event.target.value))}
        >
          <option value="">{texts.parts.notSaid}</option>
          {field.words.map((word, place) => (
            <option key={word.word} value={String(place)}>
              {word.label}
            </option>
          ))}
        </select>
      </span>
      {children}
      <span className={error ? "field-more" : "figure-more"}>{error ?? figure?.note ?? ""}</span>
    </div>
  );
}
