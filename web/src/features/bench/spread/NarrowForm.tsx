/** What was read on site or bench, and the judgement with it. */
import { useState } from "react";
import { engineering, readQuantity } from "../../../format";
import { texts } from "../../../texts/en";
import type { Draft, Gang } from "../draft";
import { type Measurement, useNarrow } from "./queries";
import { Shares } from "./Shares";

const words = texts.spread;
const METERS = [
  [1e7, "10 MΩ"],
  [4e5, "400 kΩ"],
] as const;
type Kind = Measurement["kind"];
const KINDS = Object.keys(words.kinds) as Kind[];

export function NarrowForm({ gang, draft }: { gang: Gang; draft: Draft }) {
  const narrow = useNarrow(gang.id);
  const [kind, setKind] = useState<Kind>("lamp_v");
  const [value, setValue] = useState("");
  const [meter, setMeter] = useState<number>(METERS[0][0]);
  const [readings, setReadings] = useState<Measurement[]>([]);
  const [isWrong, setWrong] = useState(false);
  const add = () => {
    const read = readQuantity(value, words.units[kind] ?? "");
    setWrong(read === null || read <= 0);
    if (read === null || read <= 0) return;
    setReadings([
      ...readings,
      { kind, value: read, group: 0, meter_r_ohm: kind === "lamp_v" ? meter : null },
    ]);
    setValue("");
  };
  return (
    <section aria-label={words.narrow}>
      <h3>{words.narrow}</h3>
      <p className="quiet">{words.narrowLead}</p>
      <div className="narrow-form">
        <select
          aria-label={words.narrow}
          value={kind}
          onChange={(event) => setKind(event.target.value as Kind)}
        >
          {KINDS.map((entry) => (
            <option key={entry} value={entry}>
              {words.kinds[entry]}
            </option>
          ))}
        </select>
        {kind === "lamp_v" && (
          <select
            aria-label={words.meter}
            value={meter}
            onChange={(event) => setMeter(Number(event.target.value))}
          >
            {METERS.map(([r_ohm, label]) => (
              <option key={r_ohm} value={r_ohm}>
                {label}
              </option>
            ))}
          </select>
        )}
        <input
          className="figure"
          aria-label={texts.survey.conductors.value}
          aria-invalid={isWrong || undefined}
          placeholder={words.hints[kind]}
          value={value}
          onChange={(event) => setValue(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && add()}
        />
        <button type="button" className="outlined" onClick={add}>
          {words.add}
        </button>
      </div>
      {isWrong && <p className="wrong">{texts.parts.notANumber}</p>}
      <ul className="trail">
        {readings.map((entry, index) => (
          <li key={index}>
            <span>
              {words.kinds[entry.kind]}:{" "}
              <b className="figure">{engineering(entry.value, words.units[entry.kind] ?? "")}</b>
              {entry.meter_r_ohm ? ` (${engineering(entry.meter_r_ohm, "Ω")})` : ""}
            </span>
            <button
              type="button"
              className="plain"
              onClick={() => setReadings(readings.filter((_, k) => k !== index))}
            >
              {words.remove}
            </button>
          </li>
        ))}
      </ul>
      {readings.length > 0 && (
        <button
          type="button"
          className="solid"
          disabled={narrow.isPending}
          onClick={() => narrow.mutate({ draft, readings })}
        >
          {narrow.isPending ? words.computing : words.judge}
        </button>
      )}
      {narrow.isError && (
        <p className="wrong" role="alert">
          {narrow.error.message}
        </p>
      )}
      {narrow.data && (
        <div className="narrowed">
          <p className={narrow.data.is_explained ? "" : "wrong"} role="status">
            {narrow.data.explanation}{" "}
            {narrow.data.is_explained && words.effective(narrow.data.effective.toFixed(0))}
          </p>
          {narrow.data.is_explained && <Shares spread={narrow.data} isWeighted />}
          {narrow.data.is_explained && (
            <table className="rows figures">
              <tbody>
                {narrow.data.figures.slice(0, 5).map((figure) => (
                  <tr key={figure.path}>
                    <th scope="row">
                      {figure.label} {figure.where}
                    </th>
                    <td className="figure">
                      {engineering(figure.prior.p05 ?? 0, figure.unit)} {words.to}{" "}
                      {engineering(figure.prior.p95 ?? 0, figure.unit)} →{" "}
                      {engineering(figure.posterior.p05 ?? 0, figure.unit)} {words.to}{" "}
                      {engineering(figure.posterior.p95 ?? 0, figure.unit)}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      )}
    </section>
  );
}
