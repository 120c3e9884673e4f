/** What was done at this loop, by whom and when, newest first. */
import { texts } from "../../texts";
import { useWhen } from "../when";
import { useHistory } from "./queries";

const words = texts.handover;

export function HistoryStep({ loop }: { loop: string }) {
  const when = useWhen();
  const query = useHistory(loop);
  if (query.data === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.computing}</p>
    );
  }
  return (
    <div className="handover">
      <h2>{words.history}</h2>
      {query.data.length === 0 && <p className="quiet">{words.historyNone}</p>}
      <ol className="history" aria-label={words.history}>
        {query.data.map((line, k) => (
          <li key={`${line.at}${k}`}>
            <small>
              {when(line.at)} · {line.who}
            </small>
            <span>{line.text}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
