/** A file onto the shelf: looked at first, then taken whole. */
import { useState } from "react";
import { Dialog } from "../dialog/Dialog";
import { say, texts } from "../../texts";
import { useImport } from "./queries";

const words = texts.shelf;
type File_ = { text: string; format: "csv" | "json" };

export function ImportDialog({ onClose }: { onClose: () => void }) {
  const load = useImport();
  const [file, setFile] = useState<File_ | null>(null);
  const look = async (chosen: File | undefined) => {
    if (!chosen) return;
    const made: File_ = {
      text: await chosen.text(),
      format: chosen.name.toLowerCase().endsWith(".json") ? "json" : "csv",
    };
    setFile(made);
    load.mutate({ ...made, apply: false });
  };
  const found = load.data;
  const mayTake =
    found && found.bad.length === 0 && !found.is_applied && found.new.length + found.changed.length > 0;
  return (
    <Dialog
      open
      width={760}
      title={words.importTitle}
      okText={words.take}
      cancelText={words.close}
      onCancel={onClose}
      onOk={() => file && load.mutate({ ...file, apply: true })}
      okButtonProps={{ disabled: !mayTake, loading: load.isPending }}
    >
      <div className="stack">
        <p>{words.importLead}</p>
        <label>
          {words.chooseFile}{" "}
          <input
            type="file"
            accept=".csv,.json,text/csv,application/json"
            onChange={(event) => void look(event.target.files?.[0])}
          />
        </label>
        {load.isError && (
          <p className="wrong" role="alert">
            {load.error.message}
          </p>
        )}
        {found && found.bad.length === 0 && (
          <div role="status">
            <p>
              {found.is_applied && <b>{words.taken} </b>}
              {say(words.looked, {
                fresh: found.new.length,
                changed: found.changed.length,
                unchanged: found.unchanged,
              })}
            </p>
            <ul className="plain-list import-names">
              {[...found.new, ...found.changed].map((name) => (
                <li key={name}>{name}</li>
              ))}
            </ul>
          </div>
        )}
        {found && found.bad.length > 0 && (
          <>
            <p className="wrong" role="alert">
              {say(words.bad, { count: found.bad.length })}
            </p>
            <div className="import-bad">
              <table className="rows figures">
                <thead>
                  <tr>
                    <th scope="col">{words.line}</th>
                    <th scope="col">{words.column}</th>
                    <th scope="col">{words.reason}</th>
                  </tr>
                </thead>
                <tbody>
                  {found.bad.map((row, k) => (
                    <tr key={k}>
                      <td className="figure">{row.line}</td>
                      <td>{row.column || "–"}</td>
                      <td>{row.text}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </>
        )}
      </div>
    </Dialog>
  );
}
