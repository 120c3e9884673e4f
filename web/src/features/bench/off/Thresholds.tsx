/** What the words of the judgement hang on, and why. */
import { texts } from "../../../texts";
import { useThresholds } from "./queries";

export function Thresholds() {
  const rows = useThresholds();
  return (
    <details className="thresholds">
      <summary>{texts.off.thresholds}</summary>
      <dl>
        {rows.data?.map((row) => (
          <div key={row.name}>
            <dt>
              {row.title} <b className="figure">{row.value}</b>
            </dt>
            <dd className="quiet">{row.reason}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
