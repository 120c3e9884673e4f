/** The judgement with what was read: whether it is explained, shares anew, figures before and after. */
import type { Schemas } from "../../../api/client";
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { Shares } from "./Shares";

const words = texts.spread;

export function Narrowed({ found }: { found: Schemas["Narrowing"] }) {
  return (
    <div className="narrowed">
      <p className={found.is_explained ? "" : "wrong"} role="status">
        {found.explanation}{" "}
        {found.is_explained && say(words.effective, { count: found.effective.toFixed(0) })}
      </p>
      {found.is_explained && <Shares spread={found} isWeighted />}
      {found.is_explained && (
        <table className="rows figures">
          <tbody>
            {found.figures.slice(0, 5).map((figure) => (
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
  );
}
