/** Name, note and breaker of a loop. */
import { Input, Select } from "antd";
import { useState } from "react";
import { texts } from "../../texts";
import { FormDialog } from "../FormDialog";
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
      <label>
        {texts.make.loopName}
        <Input value={name} maxLength={120} autoFocus onChange={(event) => setName(event.target.value)} />
      </label>
      <label>
        {texts.list.breaker}
        <Select
          aria-label={texts.list.breaker}
          value={circuit}
          onChange={(value: string) => setCircuit(value)}
          options={[
            { value: "", label: texts.make.noCircuit },
            ...(circuits.data?.results ?? []).map((entry) => ({ value: entry.id, label: entry.breaker })),
          ]}
        />
      </label>
      <label>
        {texts.make.note}
        <Input value={note} maxLength={500} onChange={(event) => setNote(event.target.value)} />
      </label>
    </FormDialog>
  );
}
