/** A figure to type, or to choose where it is one of some words. */
import { texts } from "../../texts/en";

interface Props {
  words: readonly { word: string; label: string }[];
  value: string;
  onChange: (value: string) => void;
}

export function ValueInput({ words, value, onChange }: Props) {
  if (words.length === 0)
    return <input className="figure" value={value} onChange={(event) => onChange(event.target.value)} />;
  return (
    <select value={value} onChange={(event) => onChange(event.target.value)}>
      <option value="">{texts.parts.notSaid}</option>
      {words.map((word, place) => (
        <option key={word.word} value={String(place)}>
          {word.label}
        </option>
      ))}
    </select>
  );
}
