/** A new loop: site, name, breaker; everything else is asked on the bench. */
import { Input, Select } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { texts } from "../../texts";
import { FormDialog } from "../FormDialog";
import { useCircuits, useMakeLoop, useSites } from "./queries";

export function NewLoopDialog({ site: firstSite, onClose }: { site: string | null; onClose: () => void }) {
  const sites = useSites();
  const choices = sites.data?.results ?? [];
  const [chosen, setChosen] = useState(firstSite);
  // Of several sites none is guessed: a loop in the wrong building is hard to find again.
  const site = chosen ?? (choices.length === 1 ? (choices[0]?.id ?? null) : null);
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const [circuit, setCircuit] = useState<string | null>(null);
  const [newBreaker, setNewBreaker] = useState("");
  const circuits = useCircuits(site);
  const make = useMakeLoop();
  const navigate = useNavigate();
  const submit = () => {
    if (site === null) return;
    make.mutate(
      { site, name: name.trim(), note, circuit, newBreaker: newBreaker.trim() },
      { onSuccess: (loop) => navigate(`/loops/${loop.id}`) },
    );
  };
  return (
    <FormDialog
      title={texts.make.loopTitle}
      action={texts.make.create}
      isReady={name.trim() !== "" && site !== null}
      isPending={make.isPending}
      error={make.error}
      onSubmit={submit}
      onClose={onClose}
    >
      <label>
        {texts.list.site}
        <Select
          aria-label={texts.list.site}
          value={site}
          placeholder={texts.make.chooseSite}
          onChange={(value: string | null) => {
            setChosen(value);
            setCircuit(null);
          }}
          options={choices.map((entry) => ({ value: entry.id, label: entry.name }))}
        />
      </label>
      <label>
        {texts.make.loopName}
        <Input value={name} maxLength={120} autoFocus onChange={(event) => setName(event.target.value)} />
      </label>
      <label>
        {texts.list.breaker}
        <Select
          aria-label={texts.list.breaker}
          value={circuit ?? ""}
          disabled={newBreaker !== ""}
          onChange={(value: string) => setCircuit(value || null)}
          options={[
            { value: "", label: texts.make.noCircuit },
            ...(circuits.data?.results ?? []).map((entry) => ({
              value: entry.id,
              label: `${entry.breaker}${entry.label_as_found ? ` · ${entry.label_as_found}` : ""}`,
            })),
          ]}
        />
      </label>
      <label>
        {texts.make.circuitNew}
        <Input value={newBreaker} maxLength={20} onChange={(event) => setNewBreaker(event.target.value)} />
      </label>
      <label>
        {texts.make.note}
        <Input value={note} maxLength={500} onChange={(event) => setNote(event.target.value)} />
      </label>
    </FormDialog>
  );
}
