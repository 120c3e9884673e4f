/** The capacitance of a run of cable from the shelf, by its lengths; computed by the server. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../../api/client";
import { useLatest } from "../../../app/useLatest";
import { say, texts } from "../../../texts";
import { NOTHING, QuantityEntry, valueOf } from "../../quantity/QuantityEntry";
import type { Draft } from "../draft";
import { useShelf } from "../queries";

const words = texts.shelf.cable;

interface Props {
  draft: Draft;
  change: (draft: Draft) => void;
  region: string;
}

export function CableLength({ draft, change, region }: Props) {
  const shelf = useShelf();
  const cables = shelf.data?.filter((part) => part.category === "cable") ?? [];
  const [chosen, setChosen] = useState("");
  const [drop, setDrop] = useState(NOTHING);
  const [run, setRun] = useState(NOTHING);
  const part = chosen || cables[0]?.id;
  const [drop_m, run_m] = [valueOf(drop), valueOf(run)];
  const work = useMutation({
    mutationFn: (body: { drop_m: number; run_m: number }) =>
      answered(api.POST("/api/v1/parts/{id}/cable-run/", { params: { path: { id: part ?? "" } }, body })),
  });
  // Into what the gang is by then; once this step is left, nowhere.
  const put = useLatest((cable: Draft["cable"]) => change({ ...draft, cable }));
  if (cables.length === 0) return null;
  return (
    <fieldset className="cable-length">
      <legend>{words.title}</legend>
      <div className="narrow-form">
        <select aria-label={words.which} value={part} onChange={(event) => setChosen(event.target.value)}>
          {cables.map((cable) => (
            <option key={cable.id} value={cable.id}>
              {cable.maker} {cable.name}
            </option>
          ))}
        </select>
        <QuantityEntry name="drop_m" label={words.drop} typed={drop} hint="6 m" onTyped={setDrop} />
        <QuantityEntry
          name="run_m"
          label={say(words.run, { region })}
          typed={run}
          hint="12 m"
          onTyped={setRun}
        />
        <button
          type="button"
          className="outlined"
          disabled={drop_m === null || run_m === null || work.isPending}
          onClick={() =>
            drop_m !== null &&
            run_m !== null &&
            work.mutate({ drop_m, run_m }, { onSuccess: (made) => put.current(made.figures) })
          }
        >
          {words.put}
        </button>
      </div>
      {work.isError && (
        <p className="wrong" role="alert">
          {work.error.message}
        </p>
      )}
    </fieldset>
  );
}
