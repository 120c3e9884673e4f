/** A site or loop of another copy: looked at first, then brought in whole or not at all. */
import { useId, useState } from "react";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { Dialog } from "../dialog/Dialog";
import { when } from "../when";
import "./bundle.css";
import { useBundle } from "./queries";

const words = texts.bundle;
type Answer = Schemas["BundleAnswer"];

export function BundleDialog({ onClose }: { onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const [taken, setTaken] = useState<readonly string[]>([]);
  const bundle = useBundle();
  const found = bundle.isError ? undefined : bundle.data;
  const look = (chosen: File | undefined) => {
    if (!chosen) return;
    setFile(chosen);
    setTaken([]);
    bundle.mutate({ file: chosen, apply: false, take: [] });
  };
  const hasMore =
    found !== undefined && (found.counts.some((one) => one.new > 0) || taken.length > 0) && !found.is_applied;
  return (
    <Dialog
      open
      width={760}
      title={words.title}
      okText={words.bringIn}
      cancelText={texts.shelf.close}
      onCancel={onClose}
      onOk={() => file && bundle.mutate({ file, apply: true, take: taken })}
      okButtonProps={{ disabled: !hasMore || found.obstacles.length > 0, loading: bundle.isPending }}
    >
      <div className="stack">
        <p>{words.lead}</p>
        <label>
          {texts.shelf.chooseFile}{" "}
          <input
            type="file"
            accept=".zip,application/zip"
            onChange={(event) => look(event.target.files?.[0])}
          />
        </label>
        {bundle.error && (
          <p className="wrong" role="alert">
            {bundle.error.message}
          </p>
        )}
        {found && <Found found={found} taken={taken} onTake={setTaken} />}
      </div>
    </Dialog>
  );
}

interface FoundProps {
  found: Answer;
  taken: readonly string[];
  onTake: (ids: readonly string[]) => void;
}

function Found({ found, taken, onTake }: FoundProps) {
  const isNew = found.counts.some((one) => one.new > 0);
  return (
    <div className="bundle-found" role="status">
      <p>
        {found.is_applied && <b>{words.broughtIn} </b>}
        {say(words.holds, { site: found.site, loops: found.loops.length, when: when(found.made_at) })}
        {!isNew && found.differences.length === 0 && <> {words.nothingNew}</>}
      </p>
      {found.obstacles.length > 0 && (
        <div className="wrong" role="alert">
          <p>{words.obstacles}</p>
          <ul>
            {found.obstacles.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </div>
      )}
      {found.new_people.length > 0 && <p>{say(words.people, { names: found.new_people.join(", ") })}</p>}
      {found.differences.length > 0 && (
        <section aria-label={words.differ}>
          <h3>{words.differ}</h3>
          <p className="quiet">{words.differLead}</p>
          {found.differences.map((one) => (
            <Differs
              key={one.id}
              one={one}
              isTaken={taken.includes(one.mark)}
              mayChoose={!found.is_applied}
              onTake={(isTaken) =>
                onTake(isTaken ? [...taken, one.mark] : taken.filter((other) => other !== one.mark))
              }
            />
          ))}
        </section>
      )}
      <details>
        <summary>{words.counts}</summary>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">{words.kind}</th>
              <th scope="col">{words.new}</th>
              <th scope="col">{words.same}</th>
              <th scope="col">{words.differs}</th>
            </tr>
          </thead>
          <tbody>
            {found.counts.map((one) => (
              <tr key={one.table}>
                <td>{one.title}</td>
                <td className="figure">{one.new}</td>
                <td className="figure">{one.same}</td>
                <td className="figure">{one.differ}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </div>
  );
}

interface DiffersProps {
  one: Schemas["BundleDifference"];
  isTaken: boolean;
  mayChoose: boolean;
  onTake: (isTaken: boolean) => void;
}

function Differs({ one, isTaken, mayChoose, onTake }: DiffersProps) {
  const name = useId();
  return (
    <fieldset className="bundle-differs">
      <legend>
        {one.kind}: {one.title}
      </legend>
      {one.columns.length === 0 && <p className="quiet">{words.reckoned}</p>}
      <dl>
        {one.columns.map((column) => (
          <div key={column.name}>
            <dt>{column.name}</dt>
            {(column.here || column.there) && (
              <>
                <dd>
                  <span className="quiet">{words.here}</span> {column.here || "–"}
                </dd>
                <dd>
                  <span className="quiet">{words.there}</span> {column.there || "–"}
                </dd>
              </>
            )}
          </div>
        ))}
      </dl>
      {one.may_take ? (
        <p className="bundle-choice">
          {([false, true] as const).map((takes) => (
            <label key={String(takes)}>
              <input
                type="radio"
                name={name}
                checked={isTaken === takes}
                disabled={!mayChoose}
                onChange={() => onTake(takes)}
              />{" "}
              {takes ? words.take : words.keep}
            </label>
          ))}
        </p>
      ) : (
        <p className="quiet">{words.stays}</p>
      )}
    </fieldset>
  );
}
