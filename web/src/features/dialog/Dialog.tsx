/** A dialog over the page, and a list to search in. Both are fetched in a quiet moment after the page is there. */
import type { ModalProps, SelectProps } from "antd";
import { late } from "../../app/late";
import { texts } from "../../texts";

const fetchThemed = () => import("./Themed");
const Modal = late(() => fetchThemed().then((m) => m.ThemedModal));
const Select = late<SelectProps<string | null>>(
  () => fetchThemed().then((m) => m.ThemedSelect),
  (props) => <select aria-label={props["aria-label"]} disabled />,
);

/** A dialog must open where the server does not answer too. */
export function fetchDialogs(): void {
  const quiet_ms = 1_000;
  setTimeout(Modal.fetch, quiet_ms);
  setTimeout(Select.fetch, quiet_ms);
}

export function Dialog(props: ModalProps) {
  return (
    <Modal
      closable={props.onCancel ? { "aria-label": texts.close } : false}
      // A long title ends before the cross.
      styles={{ header: { paddingInlineEnd: "2rem" } }}
      {...props}
    />
  );
}

interface SearchSelectProps {
  label: string;
  value: string | null;
  placeholder?: string;
  disabled?: boolean;
  autoFocus?: boolean;
  options: readonly { value: string; label: string }[];
  onChange: (value: string) => void;
}

export function SearchSelect({ label, value, options, onChange, ...rest }: SearchSelectProps) {
  const shown: SelectProps<string | null>["options"] = [...options];
  return (
    <Select
      {...rest}
      aria-label={label}
      showSearch={{ optionFilterProp: "label" }}
      notFoundContent={texts.noMatch}
      value={value}
      options={shown}
      onChange={(chosen) => chosen !== null && onChange(chosen)}
    />
  );
}
