/** The figures of one part, as its kind declares them. */
import { type ReactNode, useState } from "react";
import type { ErrorEntry } from "../../../api/client";
import { texts } from "../../../texts";
import type { Figures, Kind } from "../draft";
import { FigureField } from "./FigureField";

type Field = Kind["fields"][number];

const ON_THE_LAMP = ["count", "p_run_w", "p_rated_w", "dimming"];

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
  // Of a lamp first what stands on it and in its leaflet; its electronics fold away.
  const isLamp = kind.category === "lamp";
  const isTold = (field: Field) => isLamp && ON_THE_LAMP.includes(field.name);
  const told = shown.filter(isTold);
  const technical = shown.filter((field) => !field.rating && !isTold(field));
  const ratings = shown.filter((field) => field.rating && !field.lit && !isTold(field));
  const hasError = (fields: Kind["fields"]) =>
    fields.some((field) => errors.some((error) => error.path.startsWith(`${path}.${field.name}`)));
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
      {grid(isLamp ? told : technical)}
      {isLamp && technical.length > 0 && (
        <Technical hasError={hasError(technical)}>{grid(technical)}</Technical>
      )}
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

/** Folded until it is opened, or something in it is wrong; it never closes under the hands. */
function Technical({ hasError, children }: { hasError: boolean; children: ReactNode }) {
  const [isOpen, setOpen] = useState(hasError);
  if (hasError && !isOpen) setOpen(true);
  return (
    <details className="ratings" open={isOpen} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>{texts.shelf.technical}</summary>
      {children}
    </details>
  );
}
