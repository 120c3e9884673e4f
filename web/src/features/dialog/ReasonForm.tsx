/** A line below a card that asks for the reason why; half typed it is still there after a reload. */
import { useLeftText } from "../../app/useLeft";
import { texts } from "../../texts";

interface Props {
  /** What it is the reason of, as nothing else is. */
  of: string;
  label: string;
  action: string;
  /** Characters that a reason has at least. */
  least: number;
  onReason: (reason: string) => void;
  onCancel: () => void;
}

export function ReasonForm({ of, label, action, least, onReason, onCancel }: Props) {
  const [reason, setReason] = useLeftText(of);
  const isLong = reason.trim().length >= least;
  return (
    <form
      className="fit-reason"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isLong) return;
        setReason("");
        onReason(reason.trim());
      }}
    >
      <label className="field">
        {label}
        <input value={reason} maxLength={300} autoFocus onChange={(event) => setReason(event.target.value)} />
      </label>
      <button type="submit" className="solid" disabled={!isLong}>
        {action}
      </button>
      <button
        type="button"
        className="plain"
        onClick={() => {
          setReason("");
          onCancel();
        }}
      >
        {texts.make.cancel}
      </button>
    </form>
  );
}
