/** Off-state currents at low, nominal and high supply. */
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import type { Spread } from "./queries";

const words = texts.spread;

export function Leakage({ spread }: { spread: Spread }) {
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
                {say(words.perLamp, { group: k + 1 })}
              </th>
            ))}
            {first.bypass_i_rms_a.map((_, k) => (
              <th scope="col" key={k}>
                {say(words.bypass, { number: k + 1 })}
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
