/** The figures of one part, as its kind declares them. */
import type { ErrorEntry } from "../../../api/client";
import { texts } from "../../../texts/en";
import type { Figures, Kind } from "../draft";
import { FigureField } from "./FigureField";

interface Props {
  kind: Kind | undefined;
  figures: Figures;
  path: string;
  errors: ErrorEntry[];
  without?: string[];
  /** Only the figures that matter with the light on. */
  onlyLit?: boolean;
  onChange: (figures: Figures) => void;
}

export function FigureGrid({ kind, figures, path, errors, without = [], onlyLit = false, onChange }: Props) {
  if (kind === undefined) return null;
  const change = (name: string, value: unknown) => {
    const next = { ...figures };
    next[name] = value;
    onChange(
      value === null ? Object.fromEntries(Object.entries(next).filter(([key]) => key !== name)) : next,
    );
  };
  const shown = kind.fields.filter((field) => !without.includes(field.name));
  const ratings = shown.filter((field) => field.rating && !field.lit);
  const whileLit = shown.filter((field) => field.lit);
  const grid = (fields: Kind["fields"]) => (
    <div className="figure-grid">
      {fields.map((field) => (
        <FigureField
          key={field.name}
          field={field}
          entry={figures[field.name]}
          error={errors.find((error) => error.path.startsWith(`${path}.${field.name}`))?.text}
          onChange={(value) => change(field.name, value)}
        />
      ))}
    </div>
  );
  if (onlyLit) return grid(whileLit);
  return (
    <>
      {grid(shown.filter((field) => !field.rating))}
      {ratings.length > 0 && (
        <details className="ratings">
          <summary>{texts.shelf.ratings}</summary>
          {grid(ratings)}
        </details>
      )}
      {whileLit.length > 0 && (
        <details className="ratings">
          <summary>{texts.shelf.whileLit}</summary>
          {grid(whileLit)}
        </details>
      )}
    </>
  );
}
