/** Where figures of a part are from: of which sort, and where it was read or measured. */
import { texts } from "../../texts";
import { type Source, SourceOptions } from "../quantity/SourceOptions";

interface Said {
  source: Source;
  where: string;
}

interface Props extends Said {
  label: string;
  onSaid: (part: Partial<Said>) => void;
}

export function SourceFields({ label, source, where, onSaid }: Props) {
  return (
    <>
      <label>
        {label}
        <select value={source} onChange={(event) => onSaid({ source: event.target.value as Source })}>
          <option value="">{texts.quantity.choose}</option>
          <SourceOptions />
        </select>
      </label>
      <label className="source-where">
        {texts.shelf.where}
        <input value={where} maxLength={300} onChange={(event) => onSaid({ where: event.target.value })} />
      </label>
    </>
  );
}
