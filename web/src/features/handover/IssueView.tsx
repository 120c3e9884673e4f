/** One issue: what is unusual first, what is new, what it says, who signed and who still has to. */
import { useState } from "react";
import { say, texts } from "../../texts";
import { ReasonDialog } from "../dialog/ReasonDialog";
import { useWhen } from "../when";
import { Differences } from "./Differences";
import { type Issue, type Signer, useAskBack, useIssue } from "./queries";
import { Signed } from "./Signed";
import { SignForm } from "./SignForm";
import { Unusual } from "./Unusual";

const words = texts.handover;

export function IssueView({ id, who }: { id: string; who: string }) {
  const query = useIssue(id);
  const issue = query.data;
  if (issue === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  return <Whole issue={issue} who={who} />;
}

function Whole({ issue, who }: { issue: Issue; who: string }) {
  const when = useWhen();
  const sections = [...new Set(issue.lines.map((line) => line.section))];
  const address = `/api/v1/issues/${issue.id}`;
  return (
    <article className="issue" aria-label={say(words.issue, { number: issue.number })}>
      <h2>{say(words.issue, { number: issue.number })}</h2>
      <p className="quiet">
        {say(words.made, { who: issue.by, when: when(issue.at) })}
        {issue.note && ` · ${issue.note}`}
      </p>
      {issue.faults.length > 0 ? (
        <p className="notice wrong" role="alert">
          ✗ {say(words.altered, { faults: issue.faults.join(", ") })}
        </p>
      ) : (
        <p className="issue-whole">
          ✓ {words.unaltered} <small className="figure">{issue.chain.slice(0, 16)}…</small>
        </p>
      )}
      {issue.later !== null && <p className="notice">{say(words.later, { number: issue.later })}</p>}
      {issue.asked_back && (
        <p className="notice" role="status">
          <b>{say(words.askedBack, { who: issue.asked_back.by, when: when(issue.asked_back.at) })}</b>{" "}
          {issue.asked_back.note}
        </p>
      )}
      <p className="sheet-buttons">
        <a className="outlined" href={`${address}/issue.pdf`} target="_blank" rel="noreferrer">
          {words.pdf}
        </a>
        <a className="outlined" href={`${address}/signatures.pdf`} target="_blank" rel="noreferrer">
          {words.signaturesPdf}
        </a>
        <a className="plain" href={`${address}/issue.json`} target="_blank" rel="noreferrer">
          {words.json}
        </a>
      </p>
      <Unusual seen={issue.unusual} />
      {issue.before !== null && (
        <Differences title={say(words.sinceIssue, { number: issue.before })} found={issue.new} />
      )}
      <Signed signatures={issue.signatures} />
      <ToSign issue={issue} who={who} />
      <details>
        <summary>{words.everything}</summary>
        {sections.map((section) => (
          <section key={section} aria-label={section}>
            <h3>{section}</h3>
            <dl className="issue-lines">
              {issue.lines
                .filter((line) => line.section === section)
                .map((line, k) => (
                  <div key={`${line.label}${k}`}>
                    <dt>{line.label}</dt>
                    <dd>{line.value}</dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
      </details>
    </article>
  );
}

/** Who has not signed yet; whoever may, signs here. */
function ToSign({ issue, who }: { issue: Issue; who: string }) {
  const [signing, sign] = useState<Signer | null>(null);
  const [last, setLast] = useState<Signer | null>(null);
  const [isAsking, ask] = useState(false);
  const [entry] = useState(() => crypto.randomUUID());
  const asking = useAskBack(issue.id);
  const open = issue.missing.find((one) => one.role === signing && one.may);
  if (open !== undefined) {
    return (
      <SignForm
        issue={issue}
        role={open.role}
        roleText={open.text}
        who={who}
        onDone={() => {
          setLast(signing);
          sign(null);
        }}
      />
    );
  }
  return (
    <>
      {issue.is_own_work && issue.missing.some((one) => one.role === "checker") && (
        <p className="quiet">{words.ownWork}</p>
      )}
      <p className="form-buttons to-sign">
        {issue.missing.map((one) =>
          one.may ? (
            <button
              key={one.role}
              type="button"
              className="solid"
              autoFocus={one.role === last}
              onClick={() => sign(one.role)}
            >
              {say(words.signAsButton, { role: one.text })}
            </button>
          ) : (
            <span key={one.role} className="quiet">
              {say(words.missing, { role: one.text })}
            </span>
          ),
        )}
        {issue.may_ask_back && (
          <button type="button" className="outlined" onClick={() => ask(true)}>
            {words.askBack} …
          </button>
        )}
      </p>
      {isAsking && (
        <ReasonDialog
          of={`ask back:${issue.id}`}
          title={say(words.askBackOf, { number: issue.number })}
          label={words.whatFirst}
          least={5}
          most={500}
          isPending={asking.isPending}
          error={asking.error}
          onReason={(note, done) =>
            asking.mutate(
              { id: entry, note },
              {
                onSuccess: () => {
                  done();
                  ask(false);
                },
              },
            )
          }
          onClose={() => ask(false)}
        />
      )}
    </>
  );
}
