/** Something is wrong: the cases of a loop, a new one, and the one that is open. */
import { useSearchParams } from "react-router";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { useWhen } from "../when";
import { CaseForm } from "./CaseForm";
import { CaseView } from "./CaseView";
import { useCases, useProveEntries } from "./queries";
import "../fit/fit.css";
import "./prove.css";

const words = texts.prove.cases;

interface Props {
  loop: Loop;
  gang: string;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function CasesStep({ loop, gang, mayEdit, onGo }: Props) {
  const when = useWhen();
  const query = useCases(loop.id);
  const entries = useProveEntries(loop.id);
  const [params, setParams] = useSearchParams();
  const set = (changes: Record<string, string | null>) =>
    setParams((now) => {
      const changed = new URLSearchParams(now);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null) changed.delete(name);
        else changed.set(name, value);
      }
      return changed;
    });
  const cases = query.data;
  if (cases === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  if (params.has("new") && mayEdit) {
    return (
      <CaseForm
        loop={loop}
        cases={cases}
        symptom={params.get("new") ?? ""}
        gang={params.get("gang") ?? gang}
        onOpened={(id) => set({ case: id, new: null, gang: null })}
        onCancel={() => set({ new: null, gang: null })}
      />
    );
  }
  const wanted = params.get("case");
  const open = cases.cases.filter((one) => one.is_open);
  const one = cases.cases.find((entry) => entry.id === wanted) ?? (wanted === null ? open[0] : undefined);
  const onItsWay = entries.filter((entry) => entry.path === `/api/v1/loops/${loop.id}/cases/`);
  const others = cases.cases.filter((entry) => entry !== one);
  return (
    <div className="fit prove">
      {onItsWay.map((entry) => (
        <p key={entry.id} className={entry.state === "refused" ? "notice wrong" : "quiet"} role="status">
          {entry.label}: {entry.refusal?.text ?? words.waiting}
        </p>
      ))}
      {one === undefined && <p>{cases.cases.length === 0 ? `${words.none} ${words.lead}` : words.lead}</p>}
      {one && <CaseView key={one.id} loop={loop} one={one} cases={cases} mayEdit={mayEdit} onGo={onGo} />}
      {mayEdit && (
        <p className="form-buttons">
          <button
            type="button"
            className={one === undefined ? "solid" : "outlined"}
            onClick={() => set({ new: "", case: null })}
          >
            {words.new}
          </button>
        </p>
      )}
      {others.length > 0 && (
        <section aria-label={words.back}>
          <h2>{words.back}</h2>
          <ul className="case-list">
            {others.map((entry) => (
              <li key={entry.id}>
                <button type="button" className="plain" onClick={() => set({ case: entry.id })}>
                  <b>{say(words.case, { number: entry.number })}</b>{" "}
                  {entry.is_open ? words.isOpen : words.isClosed} ·{" "}
                  {entry.told.map((told) => told.text).join(" ")}
                  <small>
                    {entry.events.filter((event) => event.is_closing).at(-1)?.cause_text} {when(entry.at)}
                  </small>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
