/** A dialog with a few fields, one action, and room for a refusal. */
import { Modal } from "antd";
import type { ReactNode } from "react";
import { texts } from "../texts/en";

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
  return (
    <Modal
      open
      title={title}
      okText={action}
      cancelText={texts.make.cancel}
      onCancel={onClose}
      onOk={onSubmit}
      okButtonProps={{ disabled: !isReady, loading: isPending }}
    >
      <div className="stack">
        {children}
        {error && (
          <p className="wrong" role="alert">
            {error.message}
          </p>
        )}
      </div>
    </Modal>
  );
}
