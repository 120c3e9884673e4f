/** A file taken in: looked at first, then taken whole or not at all. */
import { useState } from "react";
import { Dialog } from "./Dialog";
import { say, texts } from "../../texts";

const words = texts.shelf;

export interface Found {
  /** What it would make or change, by name. */
  names: readonly string[];
  /** The same in a sentence. */
  summary: string;
  bad: readonly { line: number; column: string; text: string }[];
  isApplied: boolean;
}

interface Props {
  title: string;
  lead: string;
  accept: string;
  found: Found | undefined;
  error: Error | null;
  isPending: boolean;
  onFile: (text: string, name: string, apply: boolean) => void;
  onClose: () => void;
}

export function FileDialog({ title, lead, accept, found, error, isPending, onFile, onClose }: Props) {
  const [file, setFile] = useState<{ text: string; name: string } | null>(null);
  const look = async (chosen: File | undefined) => {
    if (!chosen) return;
    const made = { text: await chosen.text(), name: chosen.name };
    setFile(made);
    onFile(made.text, made.name, false);
  };
  const mayTake = found && found.bad.length === 0 && !found.isApplied && found.names.length > 0;
  return (
    <Dialog
      open
      width={760}
      title={title}
      okText={words.take}
      cancelText={words.close}
      onCancel={onClose}
      onOk={() => file && onFile(file.text, file.name, true)}
      okButtonProps={{ disabled: !mayTake, loading: isPending }}
    >
      <div className="stack">
        <p>{lead}</p>
        <label>
          {words.chooseFile}{" "}
          <input type="file" accept={accept} onChange={(event) => void look(event.target.files?.[0])} />
        </label>
        {error && (
          <p className="wrong" role="alert">
            {error.message}
          </p>
        )}
        {found && found.bad.length === 0 && (
          <div role="status">
            <p>
              {found.isApplied && <b>{words.taken} </b>}
              {found.summary}
            </p>
            <ul className="plain-list import-names">
              {found.names.map((name) => (
                <li key={name}>{name}</li>
              ))}
            </ul>
          </div>
        )}
        {found && found.bad.length > 0 && <Bad rows={found.bad} />}
      </div>
    </Dialog>
  );
}

function Bad({ rows }: { rows: Found["bad"] }) {
  return (
    <>
      <p className="wrong" role="alert">
        {say(words.bad, { count: rows.length })}
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
            {rows.map((row, k) => (
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
  );
}
