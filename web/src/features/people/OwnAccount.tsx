/** One's own password and sessions. */
import { type FormEvent, useState } from "react";
import { say, texts } from "../../texts";
import { Dialog } from "../dialog/Dialog";
import { when } from "../when";
import { useEndSignIn, useOwnPassword, useSignIns } from "./queries";

const words = texts.people.own;

export function OwnAccount({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open footer={null} title={words.title} onCancel={onClose}>
      <section className="stack" aria-label={words.password}>
        <h2>{words.password}</h2>
        <PasswordForm />
      </section>
      <section className="stack own-sessions" aria-label={words.sessions}>
        <h2>{words.sessions}</h2>
        <Sessions />
      </section>
    </Dialog>
  );
}

/** In place of every page, where the password was given by somebody else. */
export function FirstPassword() {
  return (
    <main className="door">
      <div className="door-in">
        <h1>{words.first}</h1>
        <p>{words.firstLead}</p>
        <PasswordForm />
      </div>
    </main>
  );
}

export function PasswordForm() {
  const [present, setPresent] = useState("");
  const [fresh, setFresh] = useState("");
  const [again, setAgain] = useState("");
  const change = useOwnPassword();
  const differ = again !== "" && fresh !== again;
  const isReady = present !== "" && fresh !== "" && fresh === again && !change.isPending;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!isReady) return;
    change.mutate(
      { present, password: fresh },
      {
        onSuccess: () => {
          setPresent("");
          setFresh("");
          setAgain("");
        },
      },
    );
  };
  return (
    <form className="stack" onSubmit={submit}>
      <Secret label={words.present} kind="current-password" value={present} onChange={setPresent} />
      <Secret label={words.fresh} kind="new-password" value={fresh} onChange={setFresh} />
      <Secret label={words.again} kind="new-password" value={again} onChange={setAgain} />
      <p className="quiet">{words.rule}</p>
      {differ && <p className="wrong">{words.differ}</p>}
      {change.isError && (
        <p className="wrong" role="alert">
          {change.error.message}
        </p>
      )}
      {change.isSuccess && <p role="status">{words.changed}</p>}
      <button type="submit" className="solid" disabled={!isReady}>
        {words.change}
      </button>
    </form>
  );
}

interface SecretProps {
  label: string;
  kind: "current-password" | "new-password";
  value: string;
  onChange: (value: string) => void;
}

function Secret({ label, kind, value, onChange }: SecretProps) {
  return (
    <label>
      {label}
      <input
        type="password"
        autoComplete={kind}
        maxLength={200}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

function Sessions() {
  const rows = useSignIns();
  const end = useEndSignIn();
  return (
    <ul className="sessions">
      {rows.data?.map((row) => (
        <li key={row.id}>
          <span>
            <b>{row.is_this ? words.this : brief(row.device ?? "")}</b>
            {row.is_shared && ` · ${words.shared}`}
            <small>
              {say(words.since, { when: when(row.at) })}, {say(words.seen, { when: when(row.last_seen_at) })}
            </small>
          </span>
          {!row.is_this && (
            <button
              type="button"
              className="outlined"
              disabled={end.isPending}
              onClick={() => end.mutate(row.id)}
            >
              {words.end}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

/** What a browser says of its system: the part in brackets. */
function brief(device: string): string {
  return /\(([^)]*)\)/.exec(device)?.[1]?.slice(0, 60) ?? device.slice(0, 60);
}
