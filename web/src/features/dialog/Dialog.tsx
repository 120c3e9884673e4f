/** A dialog over the page, and a list to search in. Both are fetched in a quiet moment after the page is there. */
import type { ModalProps, RefSelectProps, SelectProps } from "antd";
import { lazy, Suspense, useLayoutEffect, useRef } from "react";
import { isFieldFocused } from "../../app/keys";
import { texts } from "../../texts";

const fetchThemed = () => import("./Themed");
const Modal = lazy(() => fetchThemed().then((m) => ({ default: m.ThemedModal })));
const Select = lazy(() => fetchThemed().then((m) => ({ default: m.ThemedSelect })));

/** A dialog must open where the server does not answer too. */
export function fetchDialogs(): void {
  setTimeout(() => void fetchThemed().catch(() => undefined), 1_000);
}

export function Dialog(props: ModalProps) {
  return (
    <Suspense fallback={null}>
      <Modal
        closable={props.onCancel ? { "aria-label": texts.close } : false}
        // A long title ends before the cross.
        styles={{ header: { paddingInlineEnd: "2rem" } }}
        {...props}
      />
    </Suspense>
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

/** Put on the page when the list has arrived: by then somebody may be typing elsewhere, whose focus is not taken. */
function Arriving({ autoFocus = false, ...rest }: SelectProps<string | null>) {
  const field = useRef<RefSelectProps>(null);
  // Asked in the moment it is put there: while it is being drawn, which takes a while, a field may be clicked.
  useLayoutEffect(() => {
    if (autoFocus && !isFieldFocused()) field.current?.focus();
    // Once, on arrival.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return <Select {...rest} ref={field} />;
}

export function SearchSelect({ label, value, options, onChange, ...rest }: SearchSelectProps) {
  const shown: SelectProps<string | null>["options"] = [...options];
  return (
    <Suspense fallback={<select aria-label={label} disabled />}>
      <Arriving
        {...rest}
        aria-label={label}
        showSearch={{ optionFilterProp: "label" }}
        notFoundContent={texts.noMatch}
        value={value}
        options={shown}
        onChange={(chosen) => chosen !== null && onChange(chosen)}
      />
    </Suspense>
  );
}
