/** Head of a part's editor: from the shelf, its name, planned or fitted, away with it. */
import type { Schemas } from "../../../api/client";
import { say, texts } from "../../../texts";
import { TextInput } from "../../quantity/TextInput";
import type { Fit } from "../draft";
import { ShelfSelect, useParts } from "./ShelfSelect";

/** Equal as data, whatever the order of the entries. */
function isSame(one: unknown, two: unknown): boolean {
  if (typeof one !== "object" || typeof two !== "object" || one === null || two === null) return one === two;
  const [left, right] = [one as Record<string, unknown>, two as Record<string, unknown>];
  const keys = new Set([...Object.keys(left), ...Object.keys(right)]);
  return [...keys].every((key) => isSame(left[key], right[key]));
}

function withoutCount(figures: Fit["figures"]): Fit["figures"] {
  return Object.fromEntries(Object.entries(figures).filter(([name]) => name !== "count"));
}

interface Props {
  category: Schemas["CategoryEnum"];
  v_rms: number;
  fit: Fit;
  onChange: (fit: Fit) => void;
  onRemove: () => void;
}

export function FitHead({ category, v_rms, fit, onChange, onRemove }: Props) {
  const parts = useParts(category, v_rms);
  const choose = (part: Schemas["Part"]) => {
    const count = fit.figures["count"];
    const figures = count === undefined ? part.figures : { ...part.figures, count };
    onChange({ ...fit, part: part.id, label: `${part.maker} ${part.name}`, figures });
  };
  const own = parts.find((entry) => entry.id === fit.part);
  const isOlder = own !== undefined && !isSame(withoutCount(fit.figures), own.figures);
  return (
    <div className="fit-head">
      <ShelfSelect parts={parts} v_rms={v_rms} value={fit.part ?? null} onChoose={choose} />
      <label>
        {texts.parts.label}
        <TextInput value={fit.label} maxLength={160} onChange={(label) => onChange({ ...fit, label })} />
      </label>
      <fieldset>
        <legend>{texts.parts.status}</legend>
        {(["planned", "fitted"] as const).map((status) => (
          <label key={status}>
            <input
              type="radio"
              checked={fit.status === status}
              onChange={() => onChange({ ...fit, status })}
            />
            {texts.parts[status]}
          </label>
        ))}
      </fieldset>
      <button type="button" className="outlined" onClick={onRemove}>
        {texts.parts.remove}
      </button>
      {own && isOlder && (
        <p className="fresher">
          {say(texts.shelf.fresher, { label: fit.label || own.name })}{" "}
          <button type="button" className="outlined" onClick={() => choose(own)}>
            {texts.shelf.takeFresh}
          </button>
        </p>
      )}
    </div>
  );
}
