/** A new loop: site, name, breaker; everything else is asked on the bench. */
import { useNavigate } from "react-router";
import { useLeft } from "../../app/useLeft";
import { texts } from "../../texts";
import { SearchSelect } from "../dialog/Dialog";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useCircuits, useMakeLoop, useSites } from "./queries";

export function NewLoopDialog({ site: firstSite, onClose }: { site: string | null; onClose: () => void }) {
  const sites = useSites();
  const choices = sites.data?.results ?? [];
  const { form, isLeft, change, forget } = useLeft(`loop:${firstSite ?? ""}`, {
    chosen: firstSite,
    name: "",
    note: "",
    circuit: null as string | null,
    newBreaker: "",
  });
  const { chosen, name, note, circuit, newBreaker } = form;
  // Of several sites none is guessed: a loop in the wrong building is hard to find again.
  const site = chosen ?? (choices.length === 1 ? (choices[0]?.id ?? null) : null);
  const circuits = useCircuits(site);
  const make = useMakeLoop();
  const navigate = useNavigate();
  const submit = () => {
    if (site === null) return;
    make.mutate(
      { site, name: name.trim(), note, circuit, newBreaker: newBreaker.trim() },
      {
        onSuccess: (loop) => {
          forget();
          void navigate(`/loops/${loop.id}`);
        },
      },
    );
  };
  return (
    <FormDialog
      title={texts.make.loopTitle}
      action={texts.make.create}
      isReady={name.trim() !== "" && site !== null}
      isPending={make.isPending}
      error={make.error}
      isLeft={isLeft}
      onSubmit={submit}
      onClose={() => {
        forget();
        onClose();
      }}
    >
      <label>
        {texts.list.site}
        <SearchSelect
          label={texts.list.site}
          value={site}
          placeholder={texts.make.chooseSite}
          onChange={(value) => change({ chosen: value, circuit: null })}
          options={choices.map((entry) => ({ value: entry.id, label: entry.name }))}
        />
      </label>
      <TextLine
        label={texts.make.loopName}
        value={name}
        maxLength={120}
        onChange={(next) => change({ name: next })}
      />
      <label>
        {texts.list.breaker}
        <SearchSelect
          label={texts.list.breaker}
          value={circuit ?? ""}
          disabled={newBreaker !== ""}
          onChange={(value) => change({ circuit: value || null })}
          options={[
            { value: "", label: texts.make.noCircuit },
            ...(circuits.data?.results ?? []).map((entry) => ({
              value: entry.id,
              label: `${entry.breaker}${entry.label_as_found ? ` · ${entry.label_as_found}` : ""}`,
            })),
          ]}
        />
      </label>
      <TextLine
        label={texts.make.circuitNew}
        value={newBreaker}
        maxLength={20}
        onChange={(next) => change({ newBreaker: next })}
      />
      <TextLine
        label={texts.make.note}
        value={note}
        maxLength={500}
        onChange={(next) => change({ note: next })}
      />
    </FormDialog>
  );
}
