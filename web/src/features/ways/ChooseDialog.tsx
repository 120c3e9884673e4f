/** Choosing a way: it stays on record with who, when and why. */
import { useState } from "react";
import { useLeftText } from "../../app/useLeft";
import { say, texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { useChooseWay, type WayRow } from "./queries";
import { WhatIsDone } from "./WayCard";

const words = texts.ways;

interface Props {
  loop: string;
  row: WayRow;
  /** Of the newest choice that is shown. */
  number: number;
  /** What the ways stood on that are shown. */
  basis: unknown;
  onClose: () => void;
  onDone: () => void;
}

export function ChooseDialog({ loop, row, number, basis, onClose, onDone }: Props) {
  const [id] = useState(() => crypto.randomUUID());
  const [why, setWhy] = useLeftText(`why:${loop}:${row.way}:${row.control}`);
  const choose = useChooseWay(loop);
  return (
    <FormDialog
      title={say(words.chooseTitle, { way: row.title })}
      action={words.choose}
      isReady
      isPending={choose.isPending}
      error={choose.error}
      onClose={() => {
        setWhy("");
        onClose();
      }}
      onSubmit={() =>
        choose.mutate(
          { id, number, way: row.way, control: row.control, why, basis },
          {
            onSuccess: () => {
              setWhy("");
              onClose();
              onDone();
            },
          },
        )
      }
    >
      <p>
        <WhatIsDone row={row} />
      </p>
      <p>
        <b>{words.columns.isolation}:</b> {row.isolation}
      </p>
      <p>
        <b>{words.columns.rule}:</b> {row.rule}
      </p>
      <label className="field">
        {words.why}
        <input value={why} maxLength={300} onChange={(event) => setWhy(event.target.value)} />
      </label>
    </FormDialog>
  );
}
