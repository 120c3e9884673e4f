/** A name or a note: what is typed counts when the field is left, so that undo goes back an edit and not a key. */
import { useTyped } from "./useTyped";

interface Props {
  id?: string;
  value: string;
  maxLength: number;
  placeholder?: string;
  className?: string;
  onChange: (value: string) => void;
}

export function TextInput({ value, onChange, ...rest }: Props) {
  const typed = useTyped({
    shown: value,
    onRead: (text) => {
      if (text !== value) onChange(text);
      return true;
    },
  });
  return <input {...rest} {...typed.field} onChange={(event) => typed.setText(event.target.value)} />;
}
