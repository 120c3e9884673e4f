/** Head of a part's editor: from the shelf, its name, planned or fitted, away with it. */
import { Select } from "antd";
import type { Schemas } from "../../../api/client";
import { texts } from "../../../texts/en";
import type { Fit } from "../draft";
import { useShelf } from "../queries";

interface Props {
  category: Schemas["CategoryEnum"];
  v_rms: number;
  fit: Fit;
  onChange: (fit: Fit) => void;
  onRemove: () => void;
}

export function FitHead({ category, v_rms, fit, onChange, onRemove }: Props) {
  const shelf = useShelf();
  const parts = (shelf.data ?? []).filter((part) => part.category === category);
  const choose = (id: string) => {
    const part = parts.find((entry) => entry.id === id);
    if (!part) return;
    const count = fit.figures["count"];
    const figures = count === undefined ? part.figures : { ...part.figures, count };
    onChange({ ...fit, part: part.id, label: `${part.maker} ${part.name}`, figures });
  };
  return (
    <div className="fit-head">
      <label>
        {texts.parts.shelf}
        <Select
          aria-label={texts.parts.shelf}
          showSearch={{ optionFilterProp: "label" }}
          value={fit.part}
          placeholder={texts.parts.shelfHint}
          onChange={choose}
          options={parts.map((part) => ({
            value: part.id,
            label: `${part.maker} ${part.name}${part.v_rms === v_rms ? "" : texts.parts.madeFor(part.v_rms)}`,
          }))}
        />
      </label>
      <label>
        {texts.parts.label}
        <input
          value={fit.label}
          maxLength={160}
          onChange={(event) => onChange({ ...fit, label: event.target.value })}
        />
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
    </div>
  );
}
