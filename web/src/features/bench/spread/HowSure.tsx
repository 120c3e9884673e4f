/** How sure the judgement is: shares, margins, what decides, another load switching, currents by supply. */
import { useQueryClient } from "@tanstack/react-query";
import { engineering } from "../../../format";
import { texts } from "../../../texts/en";
import type { Draft, Gang } from "../draft";
import { LeastLoads } from "./LeastLoads";
import { NarrowForm } from "./NarrowForm";
import { type Spread, useSpread } from "./queries";
import { Shares } from "./Shares";

const words = texts.spread;

export function HowSure({ gang, draft }: { gang: Gang; draft: Draft }) {
  const spread = useSpread(gang.id, draft);
  const client = useQueryClient();
  if (draft.control === null || draft.lamps.length === 0) return null;
  return (
    <section className="how-sure" aria-label={words.title} aria-busy={spread.isFetching}>
      <h2>{words.title}</h2>
      {spread.isFetching && (
        <p className="quiet" role="status">
          {words.computing}{" "}
          <button
            type="button"
            className="plain"
            onClick={() => void client.cancelQueries({ queryKey: ["spread", gang.id] })}
          >
            {words.stop}
          </button>
        </p>
      )}
      {spread.isError && (
        <p className="wrong" role="alert">
          {spread.error.message}
        </p>
      )}
      {!spread.isFetching && !spread.data && !spread.isError && (
        <button type="button" className="outlined" onClick={() => void spread.refetch()}>
          {words.again}
        </button>
      )}
      {spread.data && <Shares spread={spread.data} />}
      <NarrowForm gang={gang} draft={draft} />
      <LeastLoads gang={gang} draft={draft} />
      {spread.data && <Leakage spread={spread.data} />}
    </section>
  );
}

function Leakage({ spread }: { spread: Spread }) {
  const first = spread.leakage[0];
  if (!first) return null;
  const current = (value: number) => <td className="figure">{engineering(value, "A")}</td>;
  return (
    <>
      <h3>{words.leakage}</h3>
      <table className="rows figures leakage">
        <thead>
          <tr>
            <th scope="col">{words.supply}</th>
            <th scope="col">{words.total}</th>
            {first.one_lamp_i_rms_a.map((_, k) => (
              <th scope="col" key={k}>
                {words.perLamp(k + 1)}
              </th>
            ))}
            {first.bypass_i_rms_a.map((_, k) => (
              <th scope="col" key={k}>
                {words.bypass(k + 1)}
              </th>
            ))}
            <th scope="col">{words.across}</th>
          </tr>
        </thead>
        <tbody>
          {spread.leakage.map((row) => (
            <tr key={row.name}>
              <th scope="row" className="figure">
                {engineering(row.v_rms, "V")}
              </th>
              {current(row.line_i_rms_a)}
              {row.one_lamp_i_rms_a.map((value, k) => (
                <td className="figure" key={k}>
                  {engineering(value, "A")}
                </td>
              ))}
              {row.bypass_i_rms_a.map((value, k) => (
                <td className="figure" key={k}>
                  {engineering(value, "A")}
                </td>
              ))}
              {current(row.across_i_rms_a)}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
