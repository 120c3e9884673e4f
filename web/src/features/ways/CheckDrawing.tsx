/** Checking a drawing: connections are entered as a leaflet shows them, and tried in every state. */
import { useState } from "react";
import { texts } from "../../texts";
import type { Loop } from "../bench/queries";
import { useRested } from "../bench/useRested";
import { OldAnswer } from "../OldAnswer";
import { useWhen } from "../when";
import { DrawingEditor } from "./DrawingEditor";
import { type Drawn, EMPTY } from "./document";
import { ProofFindings } from "./ProofFindings";
import { useCheckDrawing, useDrawings, useKeepDrawing, type Verdict, type Work } from "./queries";

const words = texts.ways.drawing;
const REST_MS = 400;

interface Props {
  loop: Loop;
  work: Work;
  mayEdit: boolean;
  /** It begins with the chosen map. */
  isBegun: boolean;
}

export function CheckDrawing({ loop, work, mayEdit, isBegun }: Props) {
  const when = useWhen();
  const kept = useDrawings(loop.id);
  const keep = useKeepDrawing(loop.id);
  const [id, setId] = useState(() => crypto.randomUUID());
  const [drawn, setDrawn] = useState<Drawn | null>(isBegun ? ((work.start as Drawn | null) ?? null) : null);
  const [name, setName] = useState("");
  const [source, setSource] = useState("");
  const [corrects, setCorrects] = useState("");
  const rested = useRested(drawn, REST_MS);
  const verdict = useCheckDrawing(loop.id, rested);
  const begin = (next: Drawn, title: string) => {
    setDrawn(next);
    setName(title);
    setId(crypto.randomUUID());
    keep.reset();
  };
  return (
    <section className="drawing" aria-label={words.title}>
      <h2>{words.title}</h2>
      <p className="quiet">{words.intro}</p>
      <div className="way-do">
        <button
          type="button"
          className="outlined"
          disabled={!work.start}
          onClick={() => begin(work.start as Drawn, "")}
        >
          {words.startWanted}
        </button>
        <button type="button" className="outlined" onClick={() => begin(EMPTY, "")}>
          {words.startEmpty}
        </button>
      </div>
      {drawn !== null && (
        <>
          {verdict.isError && (
            <p className="wrong" role="alert">
              {verdict.error.message}
            </p>
          )}
          {verdict.isFetching && <p className="quiet">{words.trying}</p>}
          {verdict.data && (
            <OldAnswer isOld={verdict.isFetching || rested !== drawn}>
              <VerdictView verdict={verdict.data} />
            </OldAnswer>
          )}
          <DrawingEditor drawn={drawn} onChange={setDrawn} />
          {mayEdit && (
            <form
              className="field-grid"
              onSubmit={(event) => {
                event.preventDefault();
                if (name.trim() === "" || keep.isPending) return;
                keep.mutate(
                  { id, name, source, document: { ...drawn, name }, corrects: corrects || null },
                  { onSuccess: () => setId(crypto.randomUUID()) },
                );
              }}
            >
              <label className="field">
                {words.name}
                <input value={name} maxLength={120} onChange={(event) => setName(event.target.value)} />
              </label>
              <label className="field">
                {words.source}
                <input value={source} maxLength={300} onChange={(event) => setSource(event.target.value)} />
              </label>
              <label className="field">
                {words.corrects}
                <select value={corrects} onChange={(event) => setCorrects(event.target.value)}>
                  <option value="">{words.correctsNone}</option>
                  {kept.data?.map((one) => (
                    <option key={one.id} value={one.id}>
                      {one.name}
                    </option>
                  ))}
                </select>
              </label>
              <button type="submit" className="solid" disabled={name.trim() === "" || keep.isPending}>
                {words.keep}
              </button>
              {keep.isError && (
                <p className="wrong" role="alert">
                  {keep.error.message}
                </p>
              )}
              {keep.isSuccess && <p role="status">{words.keptNow}</p>}
            </form>
          )}
        </>
      )}
      <h3>{words.kept}</h3>
      {kept.data?.length === 0 && <p className="quiet">{words.none}</p>}
      {kept.data?.map((one) => (
        <article key={one.id} className="way" aria-label={one.name}>
          <header>
            <h2>{one.name}</h2>
            <b>
              {one.works ? "✓" : "✕"} {one.verdict}
            </b>
          </header>
          <p className="quiet">
            {[one.source, one.by, when(one.at)].filter(Boolean).join(" · ")}
            {one.corrects &&
              ` · ${words.corrects} ${kept.data.find((other) => other.id === one.corrects)?.name ?? ""}`}
          </p>
          <ul className="proof-findings">
            {one.findings
              .filter((finding) => finding.severity === "stop")
              .map((finding) => (
                <li key={finding.text} className="is-stop">
                  <span aria-hidden="true">✕</span>
                  <span>
                    {finding.text} {finding.when && <small>{finding.when}</small>}
                  </span>
                </li>
              ))}
          </ul>
          <button
            type="button"
            className="outlined"
            onClick={() => begin(one.document as unknown as Drawn, one.name)}
          >
            {words.open}
          </button>
        </article>
      ))}
    </section>
  );
}

function VerdictView({ verdict }: { verdict: Verdict }) {
  return (
    <>
      <p className={verdict.works ? "fresher" : "wrong"} role="status">
        <b>
          {verdict.works ? "✓" : "✕"} {verdict.verdict}
        </b>
      </p>
      <ProofFindings findings={verdict.findings} count={verdict.states.length} />
      {verdict.differs.length > 0 && (
        <>
          <h3>{words.differs}</h3>
          <ul>
            {verdict.differs.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </>
      )}
      <details>
        <summary>{words.states}</summary>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">{texts.ways.state}</th>
              <th scope="col">{words.lampsSay}</th>
              <th scope="col">{words.supplySay}</th>
            </tr>
          </thead>
          <tbody>
            {verdict.states.map((state) => (
              <tr key={state.text}>
                <th scope="row">{state.text}</th>
                <td>{state.lamp_text}</td>
                <td>{state.supply_text}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </>
  );
}
