/** A dialog with a few fields, one action, and room for a refusal. */
import { type ReactNode, useId, useRef } from "react";
import { Dialog } from "./Dialog";
import { texts } from "../../texts";

interface Props {
  title: string;
  action: string;
  isReady: boolean;
  isPending: boolean;
  error: Error | null;
  onSubmit: () => void;
  onClose: () => void;
  children: ReactNode;
}

export function FormDialog({ title, action, isReady, isPending, error, onSubmit, onClose, children }: Props) {
  const id = useId();
  const form = useRef<HTMLFormElement>(null);
  return (
    <Dialog
      open
      title={title}
      okText={action}
      cancelText={texts.make.cancel}
      onCancel={onClose}
      okButtonProps={{ disabled: !isReady, loading: isPending, htmlType: "submit", form: id }}
      afterOpenChange={(isOpen) => {
        const isInside = form.current?.contains(document.activeElement) ?? false;
        if (isOpen && !isInside) form.current?.querySelector<HTMLElement>("input, select, textarea")?.focus();
      }}
    >
      <form
        id={id}
        ref={form}
        className="stack"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (isReady && !isPending) onSubmit();
        }}
      >
        {children}
        {error && (
          <p className="wrong" role="alert">
            {error.message}
          </p>
        )}
      </form>
    </Dialog>
  );
}
