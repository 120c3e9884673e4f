/** Tokens for programs: made, shown once, ended. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useSites } from "../round/queries";
import { when } from "../when";
import { type Token, useEndToken, useMakeToken, useTokens } from "./queries";

const words = texts.people.tokens;
const SCOPES = ["read", "write"] as const;
const DAYS = ["30", "90", "365", "730"] as const;
type Made = Schemas["TokenMade"];

export function Tokens() {
  const tokens = useTokens();
  const end = useEndToken();
  const [isOpen, setOpen] = useState(false);
  const [made, setMade] = useState<Made | null>(null);
  return (
    <section aria-label={words.title}>
      <div className="round-tools tokens-head">
        <h2>{words.title}</h2>
        <button type="button" className="outlined" onClick={() => setOpen(true)}>
          {words.add}
        </button>
      </div>
      <p className="quiet">{words.lead}</p>
      {made && <Shown made={made} onDone={() => setMade(null)} />}
      {(tokens.error ?? end.error) && (
        <p className="wrong" role="alert">
          {(tokens.error ?? end.error)?.message}
        </p>
      )}
      {tokens.data?.length === 0 && <p>{words.none}</p>}
      {tokens.data !== undefined && tokens.data.length > 0 && (
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">{words.name}</th>
              <th scope="col">{words.scope}</th>
              <th scope="col">{words.sites}</th>
              <th scope="col">{words.ends}</th>
              <th scope="col">{words.used}</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            {tokens.data.map((token) => (
              <tr key={token.id} className={hasEnded(token) ? "is-ended" : undefined}>
                <td>
                  <b>{token.name}</b>
                  <small>{say(words.begins, { start: token.start })}</small>
                </td>
                <td>{words.scopes[token.scope]}</td>
                <td>{token.sites.join(", ") || "–"}</td>
                <td>{ending(token)}</td>
                <td>{token.last_used_at ? when(token.last_used_at) : words.never}</td>
                <td className="row-buttons">
                  {!hasEnded(token) && (
                    <button
                      type="button"
                      className="outlined"
                      aria-label={`${words.end}: ${token.name}`}
                      disabled={end.isPending}
                      onClick={() => end.mutate(token.id)}
                    >
                      {words.end}
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {isOpen && <NewToken onMade={setMade} onClose={() => setOpen(false)} />}
    </section>
  );
}

function hasEnded(token: Token): boolean {
  return Boolean(token.ended_at) || new Date(token.ends_at) <= new Date();
}

function ending(token: Token): string {
  if (token.ended_at) return say(words.ended, { when: when(token.ended_at) });
  return say(hasEnded(token) ? words.ranOut : words.until, { when: when(token.ends_at) });
}

function Shown({ made, onDone }: { made: Made; onDone: () => void }) {
  const [said, setSaid] = useState("");
  const copy = async () => {
    await navigator.clipboard.writeText(made.token);
    setSaid(words.copied);
  };
  return (
    <div className="notice token-made" role="status">
      <b>{say(words.made, { name: made.name })}</b>
      <input
        aria-label={words.token}
        className="figure"
        readOnly
        value={made.token}
        onFocus={(event) => event.target.select()}
      />
      <span>{words.madeLead}</span>
      <button type="button" className="outlined" onClick={() => void copy()}>
        {words.copy}
      </button>
      <button type="button" className="outlined" onClick={onDone}>
        {texts.shelf.close}
      </button>
      {said}
    </div>
  );
}

function NewToken({ onMade, onClose }: { onMade: (made: Made) => void; onClose: () => void }) {
  const sites = useSites();
  const make = useMakeToken();
  const [name, setName] = useState("");
  const [scope, setScope] = useState<(typeof SCOPES)[number]>("read");
  const [days, setDays] = useState<(typeof DAYS)[number]>("90");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  return (
    <FormDialog
      title={words.add}
      action={words.make}
      isReady={name.trim() !== "" && chosen.length > 0}
      isPending={make.isPending}
      error={make.error}
      onSubmit={() =>
        make.mutate(
          { name: name.trim(), scope, days: Number(days), sites: [...chosen] },
          {
            onSuccess: (made) => {
              onMade(made);
              onClose();
            },
          },
        )
      }
      onClose={onClose}
    >
      <TextLine label={words.name} value={name} maxLength={100} onChange={setName} />
      <label>
        {words.scope}
        <select value={scope} onChange={(event) => setScope(event.target.value as typeof scope)}>
          {SCOPES.map((one) => (
            <option key={one} value={one}>
              {words.scopes[one]}
            </option>
          ))}
        </select>
      </label>
      <fieldset className="ticks">
        <legend>{words.sites}</legend>
        {sites.data?.results.map((site) => (
          <label className="tick" key={site.id}>
            <input
              type="checkbox"
              checked={chosen.includes(site.id)}
              onChange={(event) =>
                setChosen(
                  event.target.checked ? [...chosen, site.id] : chosen.filter((one) => one !== site.id),
                )
              }
            />
            {site.name}
          </label>
        ))}
      </fieldset>
      <label>
        {words.ends}
        <select value={days} onChange={(event) => setDays(event.target.value as typeof days)}>
          {DAYS.map((one) => (
            <option key={one} value={one}>
              {words.days[one]}
            </option>
          ))}
        </select>
      </label>
    </FormDialog>
  );
}
