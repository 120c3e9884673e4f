/** Stopping half way: the states that are safe, what each takes now, and saying in which one it is left. */
import { useState } from "react";
import { useLeftText } from "../../app/useLeft";
import { texts } from "../../texts";
import type { FitEntries, Fitting } from "./queries";

const words = texts.fit;
type Way = Fitting["leaving"][number];

interface Props {
  loop: string;
  fitting: Fitting;
  onLeave: FitEntries["leave"];
}

export function LeaveSafe({ loop, fitting, onLeave }: Props) {
  const [chosen, choose] = useState<Way["leaving"] | null>(null);
  const [note, setNote] = useLeftText(`leave:${loop}`);
  if (fitting.is_complete) return null;
  const way = fitting.leaving.find((one) => one.leaving === chosen);
  return (
    <details className="fit-leave">
      <summary>{words.leave}</summary>
      {fitting.leaving.length === 0 ? (
        <p>{words.nothingParted}</p>
      ) : (
        <>
          <p>{words.leaveLead}</p>
          <div className="ticks" role="radiogroup" aria-label={words.leave}>
            {fitting.leaving.map((one) => (
              <label key={one.leaving} className="tick">
                <input type="radio" checked={chosen === one.leaving} onChange={() => choose(one.leaving)} />
                {one.title}
              </label>
            ))}
          </div>
          {way && (
            <form
              onSubmit={(event) => {
                event.preventDefault();
                onLeave(way.leaving, note, way.title);
                choose(null);
                setNote("");
              }}
            >
              <p>{way.text}</p>
              {way.caps.length > 0 && (
                <ul>
                  {way.caps.map((end) => (
                    <li key={end}>{end}</li>
                  ))}
                </ul>
              )}
              {way.back.length > 0 && (
                <ol>
                  {way.back.map((line) => (
                    <li key={line}>{line}</li>
                  ))}
                </ol>
              )}
              {way.against.length > 0 && (
                <ul className="missing">
                  {way.against.map((entry, k) => (
                    <li key={`${entry.code}-${k}`}>{entry.text}</li>
                  ))}
                </ul>
              )}
              <label className="field">
                {words.note}
                <input value={note} maxLength={300} onChange={(event) => setNote(event.target.value)} />
              </label>
              <button type="submit" className="solid" disabled={way.against.length > 0}>
                {words.isSo}
              </button>
            </form>
          )}
        </>
      )}
    </details>
  );
}
