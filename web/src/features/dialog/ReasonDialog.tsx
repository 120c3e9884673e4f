/** A dialog that asks for one thing: the reason why. */
import { useLeft } from "../../app/useLeft";
import { FormDialog } from "./FormDialog";

interface Props {
  /** What it is the reason of, as nothing else is: half typed it is still there after a reload. */
  of: string;
  title: string;
  label: string;
  /** Characters that a reason has at least, and at most. */
  least?: number;
  most: number;
  isPending?: boolean;
  error?: Error | null;
  /** Calls `done` once it is sent, or waits to be. */
  onReason: (reason: string, done: () => void) => void;
  onClose: () => void;
}

export function ReasonDialog(props: Props) {
  const { of, title, label, least = 1, most, isPending = false, error = null, onReason, onClose } = props;
  const { form, isLeft, change, forget } = useLeft(`reason:${of}`, { reason: "" });
  const reason = form.reason.trim();
  return (
    <FormDialog
      title={title}
      action={title}
      isReady={reason.length >= least}
      isPending={isPending}
      error={error}
      isLeft={isLeft}
      onSubmit={() => onReason(reason, forget)}
      onClose={() => {
        forget();
        onClose();
      }}
    >
      <label>
        {label}
        <input
          value={form.reason}
          maxLength={most}
          autoFocus
          onChange={(event) => change({ reason: event.target.value })}
        />
      </label>
    </FormDialog>
  );
}
