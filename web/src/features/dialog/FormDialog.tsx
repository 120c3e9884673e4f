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
  /** Whether what stands in it was typed before and left; it must not look like what is on record. */
  isLeft?: boolean;
  onSubmit: () => void;
  onClose: () => void;
  children: ReactNode;
}

export function FormDialog(props: Props) {
  const { title, action, isReady, isPending, error, isLeft = false, onSubmit, onClose, children } = props;
  const id = useId();
  const form = useRef<HTMLFormElement>(null);
  return (
    <Dialog
      open
      title={title}
      okText={action}
      cancelText={texts.make.cancel}
      onCancel={onClose}
      // A touch beside it gives up nothing that is typed.
      mask={{ closable: false }}
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
        {isLeft && (
          <p className="quiet" role="status">
            {texts.make.left}
          </p>
        )}
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
