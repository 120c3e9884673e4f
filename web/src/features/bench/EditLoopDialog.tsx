/** Name, note and breaker of a loop, whose work it is, and until when. */
import { useState } from "react";
import { texts } from "../../texts";
import { SearchSelect } from "../dialog/Dialog";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useMembers } from "../people/queries";
import { useCircuits } from "../round/queries";
import { type Loop, useChangeLoop } from "./queries";

export function EditLoopDialog({ loop, onClose }: { loop: Loop; onClose: () => void }) {
  const [name, setName] = useState(loop.name);
  const [note, setNote] = useState(loop.note ?? "");
  const [circuit, setCircuit] = useState(loop.circuit ?? "");
  const [assigned, setAssigned] = useState(loop.assigned ?? "");
  const [due, setDue] = useState(loop.due_on ?? "");
  const circuits = useCircuits(loop.site);
  const people = useMembers(loop.site);
  const hands = (people.data ?? []).filter(
    (one) => one.role !== "checker" && !one.is_program && (one.works_here || one.sees_all),
  );
  const changing = useChangeLoop(loop.id);
  const submit = () =>
    changing.mutate(
      {
        version: loop.version ?? 1,
        name: name.trim(),
        note,
        circuit: circuit || null,
        assigned: assigned || null,
        due_on: due || null,
      },
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
      <label>
        {texts.make.assigned}
        <SearchSelect
          label={texts.make.assigned}
          value={assigned}
          onChange={setAssigned}
          options={[
            { value: "", label: texts.make.nobody },
            ...hands.map((one) => ({ value: one.id, label: one.display_name ?? "" })),
          ]}
        />
      </label>
      <label>
        {texts.make.due}
        <input type="date" value={due} onChange={(event) => setDue(event.target.value)} />
      </label>
      <TextLine label={texts.make.note} value={note} maxLength={500} onChange={setNote} />
    </FormDialog>
  );
}
