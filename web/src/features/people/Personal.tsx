/** What is kept of a client: found, handed out, erased. */
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { addressOf } from "../bench/steps";
import { TextLine } from "../dialog/TextLine";
import { when } from "../when";
import { useErasePersonal, useFindPersonal } from "./queries";

const words = texts.people.personal;
type Kept = Schemas["Personal"];
type Mention = Schemas["PersonalMention"];

export function Personal() {
  const find = useFindPersonal();
  const erase = useErasePersonal();
  const [name, setName] = useState("");
  const [asked, setAsked] = useState("");
  const kept = erase.data ?? find.data;
  const error = find.error ?? erase.error;
  const look = () => {
    erase.reset();
    setAsked(name.trim());
    find.mutate(name.trim());
  };
  return (
    <section aria-label={words.title} className="personal">
      <h2>{words.title}</h2>
      <p className="quiet">{words.lead}</p>
      <form
        className="personal-find"
        onSubmit={(event) => {
          event.preventDefault();
          look();
        }}
      >
        <TextLine label={words.name} value={name} maxLength={120} onChange={setName} />
        <button type="submit" className="outlined" disabled={name.trim() === "" || find.isPending}>
          {words.find}
        </button>
      </form>
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      {kept && (
        <div role="status">
          {erase.data && <b>{words.erased}</b>}
          <Found kept={kept} />
          {kept.signatures.length + kept.texts.length > 0 && (
            <Ways
              kept={kept}
              name={asked}
              isPending={erase.isPending}
              onErase={(reason) => erase.mutate({ name: asked, reason })}
            />
          )}
        </div>
      )}
    </section>
  );
}

function Found({ kept }: { kept: Kept }) {
  const count = kept.signatures.length + kept.texts.length + kept.frozen.length + kept.trail_count;
  if (count === 0) return <p>{words.nothing}</p>;
  return (
    <>
      {kept.signatures.length > 0 && (
        <>
          <h3>{say(words.signatures, { count: kept.signatures.length })}</h3>
          <ul>
            {kept.signatures.map((row) => (
              <li key={row.id}>
                <b>{row.name}</b>,{" "}
                <Link to={addressOf(row.loop_id, 1, { step: "handover", tab: "sign" })}>
                  {say(words.signature, {
                    number: row.issue,
                    loop: row.loop,
                    site: row.site,
                    when: when(row.at),
                    who: row.taken_by,
                  })}
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
      <Mentions head={say(words.texts, { count: kept.texts.length })} rows={kept.texts} />
      <Mentions head={say(words.frozen, { count: kept.frozen.length })} rows={kept.frozen} />
      {kept.trail_count > 0 && <p>{say(words.trail, { count: kept.trail_count })}</p>}
    </>
  );
}

function Mentions({ head, rows }: { head: string; rows: readonly Mention[] }) {
  if (rows.length === 0) return null;
  return (
    <>
      <h3>{head}</h3>
      <ul>
        {rows.map((row, k) => (
          <li key={k}>
            {row.loop_id ? (
              <Link to={`/loops/${row.loop_id}`}>
                {row.site}, {row.loop}
              </Link>
            ) : (
              row.site
            )}
            , {row.kind}: <q>{row.text}</q>
          </li>
        ))}
      </ul>
    </>
  );
}

interface WaysProps {
  kept: Kept;
  name: string;
  isPending: boolean;
  onErase: (reason: string) => void;
}

function Ways({ kept, name, isPending, onErase }: WaysProps) {
  const [reason, setReason] = useState("");
  const file = `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify({ name, ...kept }, null, 1))}`;
  return (
    <form
      className="personal-find"
      onSubmit={(event) => {
        event.preventDefault();
        onErase(reason.trim());
      }}
    >
      <a className="outlined" href={file} download="kept.json">
        {words.export}
      </a>
      <TextLine label={words.reason} value={reason} maxLength={200} onChange={setReason} />
      <button type="submit" className="outlined" disabled={reason.trim() === "" || isPending}>
        {words.erase}
      </button>
    </form>
  );
}
