/** A breaker that is not on the schedule yet. */
import { useLeft } from "../../app/useLeft";
import { texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useAddCircuit } from "./queries";

const words = texts.survey.schedule;

interface Props {
  site: string;
  onAdded?: (id: string) => void;
  onClose: () => void;
}

export function AddCircuitDialog({ site, onAdded, onClose }: Props) {
  const { form, isLeft, change, forget } = useLeft(`circuit:${site}`, { breaker: "", label: "", feeds: "" });
  const { breaker, label, feeds } = form;
  const add = useAddCircuit();
  const close = () => {
    forget();
    onClose();
  };
  return (
    <FormDialog
      title={words.add}
      action={words.save}
      isReady={breaker.trim() !== ""}
      isPending={add.isPending}
      error={add.error}
      isLeft={isLeft}
      onSubmit={() =>
        add.mutate(
          { site, breaker: breaker.trim(), label_as_found: label, feeds },
          {
            onSuccess: (made) => {
              onAdded?.(made.id);
              close();
            },
          },
        )
      }
      onClose={close}
    >
      <TextLine
        label={words.breaker}
        value={breaker}
        maxLength={20}
        onChange={(typed) => change({ breaker: typed })}
      />
      <TextLine
        label={words.found}
        value={label}
        maxLength={120}
        onChange={(typed) => change({ label: typed })}
      />
      <TextLine
        label={words.feeds}
        value={feeds}
        maxLength={200}
        onChange={(typed) => change({ feeds: typed })}
      />
    </FormDialog>
  );
}
