/** What a case may be: causes with their shares, where they sit on the loop, what speaks for and against each. */
import { say, texts } from "../../texts";
import type { Diagnosis } from "./queries";

const words = texts.prove.cases;
const STATIONS = ["supply", "control", "cable", "lamps", "bypass"] as const;

/** Share of the weight that sits at each place of the thread. */
function atStations(diagnosis: Diagnosis): Record<(typeof STATIONS)[number], number> {
  const found = { supply: 0, control: 0, cable: 0, lamps: 0, bypass: 0 };
  for (const cause of diagnosis.causes)
    for (const place of cause.places)
      if (place in found) found[place as keyof typeof found] += cause.share / cause.places.length;
  return found;
}

export function Causes({ diagnosis }: { diagnosis: Diagnosis }) {
  const stations = atStations(diagnosis);
  const percent = (share: number) => say(words.share, { percent: Math.round(share * 100) });
  return (
    <section className="causes" aria-label={words.causes}>
      <h2>{words.causes}</h2>
      <p role="status" className={diagnosis.explained ? "" : "wrong"}>
        {diagnosis.text}
      </p>
      <ul className="stations" aria-label={words.where}>
        {STATIONS.map((station) => (
          <li key={station} className={stations[station] >= 0.05 ? "is-likely" : ""}>
            <span
              className="station-dot"
              style={{
                width: `${0.5 + 1.5 * stations[station]}rem`,
                height: `${0.5 + 1.5 * stations[station]}rem`,
              }}
              aria-hidden
            />
            <span>{words.stations[station]}</span>
            <span className="figure">{percent(stations[station])}</span>
          </li>
        ))}
      </ul>
      <ol className="cause-list">
        {diagnosis.causes.map((cause) => (
          <li key={cause.code}>
            <div className="cause-head">
              <span>
                {cause.title} <small>{cause.area_text}</small>
              </span>
              <b className="figure">{percent(cause.share)}</b>
            </div>
            <progress value={cause.share} max={1} aria-label={cause.title} />
            {cause.speaks.length > 0 && (
              <details>
                <summary>{words.why}</summary>
                <ul>
                  {cause.speaks.map((one) => (
                    <li key={one.text}>
                      <b>{one.bits > 0 ? "＋" : "－"}</b> {one.text}{" "}
                      <small>{one.bits > 0 ? words.speaksFor : words.speaksAgainst}</small>
                    </li>
                  ))}
                </ul>
              </details>
            )}
          </li>
        ))}
        {diagnosis.none_share >= 0.01 && (
          <li>
            <div className="cause-head">
              <span>{words.none_of}</span>
              <b className="figure">{percent(diagnosis.none_share)}</b>
            </div>
            <progress value={diagnosis.none_share} max={1} aria-label={words.none_of} />
          </li>
        )}
      </ol>
      {diagnosis.learned && <p className="quiet">{diagnosis.learned}</p>}
    </section>
  );
}
