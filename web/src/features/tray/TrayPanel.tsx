/** The tray: every entry that the server does not have yet, and what can be done with it. */
import { useState } from "react";
import { Link } from "react-router";
import type { Entry } from "../../device/entry";
import { discard, retry } from "../../device/tray";
import { useTray } from "../../device/useTray";
import { Dialog } from "../dialog/Dialog";
import { say, texts } from "../../texts";
import { when } from "../when";

const words = texts.device;

export function TrayPanel({ onClose }: { onClose: () => void }) {
  const { mine, others } = useTray();
  return (
    <Dialog open title={words.title} onCancel={onClose} footer={null} width={680} destroyOnHidden>
      <p className="quiet">{mine.length > 0 ? words.lead : words.empty}</p>
      <ul className="tray">
        {mine.map((entry) => (
          <TrayEntry key={entry.id} entry={entry} onClose={onClose} />
        ))}
      </ul>
      {Object.entries(others).map(([who, count]) => (
        <p key={who}>{say(words.others, { who, count })}</p>
      ))}
    </Dialog>
  );
}

function TrayEntry({ entry, onClose }: { entry: Entry; onClose: () => void }) {
  const [isSure, setSure] = useState(false);
  const [body, setBody] = useState(entry.body);
  const isRefused = entry.state === "refused";
  const put = (name: string, text: string) => {
    const was = entry.body[name];
    const number = Number(text.replace(",", "."));
    setBody({
      ...body,
      [name]: typeof was === "number" && text.trim() !== "" && Number.isFinite(number) ? number : text,
    });
  };
  return (
    <li className={`is-${entry.state}`} aria-label={entry.label}>
      <p>
        <b>{entry.label}</b>{" "}
        <small>
          {[entry.where, `${words.made} ${when(entry.madeAt)}`, isRefused ? words.why : words.waits].join(
            " · ",
          )}
        </small>
      </p>
      {entry.refusal && (
        <p className="wrong" role="alert">
          {entry.refusal.text}
        </p>
      )}
      {isRefused &&
        entry.fields.map(([name, label]) => (
          <label key={name} className="field">
            {label}
            <input value={String(body[name] ?? "")} onChange={(event) => put(name, event.target.value)} />
          </label>
        ))}
      {isSure ? (
        <p className="form-buttons" role="alert">
          <span>{words.discardSure}</span>
          <button type="button" className="solid" onClick={() => discard(entry.id)}>
            {words.discardYes}
          </button>
          <button type="button" className="outlined" autoFocus onClick={() => setSure(false)}>
            {words.discardNo}
          </button>
        </p>
      ) : (
        <p className="form-buttons">
          {isRefused && (
            <button type="button" className="solid" onClick={() => retry(entry.id, body)}>
              {words.again}
            </button>
          )}
          <Link className="outlined" to={entry.page} onClick={onClose}>
            {words.goThere}
          </Link>
          <button type="button" className="plain" onClick={() => setSure(true)}>
            {words.discard}
          </button>
        </p>
      )}
    </li>
  );
}
