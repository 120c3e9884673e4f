/** Name, note and breaker of a loop, whose work it is, and until when. */
import { texts } from "../../texts";
import { SearchSelect } from "../dialog/Dialog";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useEdits } from "../dialog/useEdits";
import { useMembers } from "../people/queries";
import { useCircuits } from "../round/queries";
import { type Loop, useChangeLoop } from "./queries";

export function EditLoopDialog({ loop, onClose }: { loop: Loop; onClose: () => void }) {
  const edits = useEdits(
    `edit:loop:${loop.id}`,
    {
      name: loop.name,
      note: loop.note ?? "",
      circuit: loop.circuit ?? "",
      assigned: loop.assigned ?? "",
      due: loop.due_on ?? "",
    },
    loop.version ?? 1,
  );
  const { form, change } = edits;
  const circuits = useCircuits(loop.site);
  const people = useMembers(loop.site);
  const hands = (people.data ?? []).filter(
    (one) => one.role !== "checker" && !one.is_program && (one.works_here || one.sees_all),
  );
  const changing = useChangeLoop(loop.id);
  const close = () => {
    edits.forget();
    onClose();
  };
  const submit = () =>
    changing.mutate(
      {
        version: edits.version,
        name: form.name.trim(),
        note: form.note,
        circuit: form.circuit || null,
        assigned: form.assigned || null,
        due_on: form.due || null,
      },
      { onSuccess: close, onError: edits.onError },
    );
  return (
    <FormDialog
      title={texts.make.editTitle}
      action={texts.make.change}
      isReady={form.name.trim() !== ""}
      isPending={changing.isPending}
      error={edits.told(changing.error)}
      isLeft={edits.isLeft}
      onSubmit={submit}
      onClose={close}
    >
      <TextLine
        label={texts.make.loopName}
        value={form.name}
        maxLength={120}
        onChange={(name) => change({ name })}
      />
      <label>
        {texts.list.breaker}
        <SearchSelect
          label={texts.list.breaker}
          value={form.circuit}
          onChange={(circuit) => change({ circuit })}
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
          value={form.assigned}
          onChange={(assigned) => change({ assigned })}
          options={[
            { value: "", label: texts.make.nobody },
            ...hands.map((one) => ({ value: one.id, label: one.display_name ?? "" })),
          ]}
        />
      </label>
      <label>
        {texts.make.due}
        <input type="date" value={form.due} onChange={(event) => change({ due: event.target.value })} />
      </label>
      <TextLine
        label={texts.make.note}
        value={form.note}
        maxLength={500}
        onChange={(note) => change({ note })}
      />
    </FormDialog>
  );
}
