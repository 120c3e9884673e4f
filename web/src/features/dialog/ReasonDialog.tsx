/** A dialog that asks for one thing: the reason why. */
import { useState } from "react";
import { FormDialog } from "./FormDialog";

interface Props {
  title: string;
  label: string;
  /** Characters that a reason has at least, and at most. */
  least?: number;
  most: number;
  isPending?: boolean;
  error?: Error | null;
  onReason: (reason: string) => void;
  onClose: () => void;
}

export function ReasonDialog(props: Props) {
  const { title, label, least = 1, most, isPending = false, error = null, onReason, onClose } = props;
  const [reason, setReason] = useState("");
  return (
    <FormDialog
      title={title}
      action={title}
      isReady={reason.trim().length >= least}
      isPending={isPending}
      error={error}
      onSubmit={() => onReason(reason.trim())}
      onClose={onClose}
    >
      <label>
        {label}
        <input
          value={reason}
          maxLength={most}
          autoFocus
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
    </FormDialog>
  );
}
