/** Name, note and breaker of a loop. */
import { useState } from "react";
import { texts } from "../../texts";
import { SearchSelect } from "../dialog/Dialog";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useCircuits } from "../round/queries";
import { type Loop, useChangeLoop } from "./queries";

export function EditLoopDialog({ loop, onClose }: { loop: Loop; onClose: () => void }) {
  const [name, setName] = useState(loop.name);
  const [note, setNote] = useState(loop.note ?? "");
  const [circuit, setCircuit] = useState(loop.circuit ?? "");
  const circuits = useCircuits(loop.site);
  const changing = useChangeLoop(loop.id);
  const submit = () =>
    changing.mutate(
      { version: loop.version ?? 1, name: name.trim(), note, circuit: circuit || null },
      { onSuccess: onClose },
    );
  return (
    <FormDialog
      title={texts.make.editTitle}
      action={texts.make.change}
      isReady={name.trim() !== ""}
      isPending={changing.isPending}
      error={changing.error}
      onSubmit={submit}
      onClose={onClose}
    >
      <TextLine label={texts.make.loopName} value={name} maxLength={120} onChange={setName} />
      <label>
        {texts.list.breaker}
        <SearchSelect
          label={texts.list.breaker}
          value={circuit}
          onChange={setCircuit}
          options={[
            { value: "", label: texts.make.noCircuit },
            ...(circuits.data?.results ?? []).map((entry) => ({ value: entry.id, label: entry.breaker })),
          ]}
        />
      </label>
      <TextLine label={texts.make.note} value={note} maxLength={500} onChange={setNote} />
    </FormDialog>
  );
}
