/** A labelled line of text in a dialog; every key counts, since the dialog is kept or left as a whole. */
interface Props {
  label: string;
  value: string;
  maxLength: number;
  onChange: (value: string) => void;
}

export function TextLine({ label, value, maxLength, onChange }: Props) {
  return (
    <label>
      {label}
      <input value={value} maxLength={maxLength} onChange={(event) => onChange(event.target.value)} />
    </label>
  );
}
