/** Which reading tells most of a gang, what is expected, and what was read. */
import { engineering } from "../../format";
import { say, texts } from "../../texts";
import { useWorth } from "./queries";

const words = texts.prove;

export function Worth({ gang, onReadings }: { gang: string; onReadings: () => void }) {
  const query = useWorth(gang);
  if (query.isError) return <p className="wrong">{query.error.message}</p>;
  if (query.data === undefined) return <p className="quiet">{texts.bench.computing}</p>;
  const { readings, taken, text } = query.data;
  return (
    <div className="worth">
      <h3>{words.worth}</h3>
      <p className="quiet">{words.worthLead}</p>
      <ol>
        {readings.map((one, k) => (
          <li key={one.read}>
            <span>
              {one.text}
              {k === 0 && <b> · {words.best}</b>}
              {one.blinking_ratio < 0.999 && (
                <small>{say(words.blinks, { percent: Math.round(one.blinking_ratio * 100) })}</small>
              )}
            </span>
            <span className="figure">
              {say(words.expected, {
                low: engineering(one.expected.p05 ?? 0, one.unit),
                high: engineering(one.expected.p95 ?? 0, one.unit),
              })}
            </span>
            <small>{say(words.bits, { bits: one.gain_bits.toFixed(1) })}</small>
          </li>
        ))}
      </ol>
      {taken && (
        <p className={taken.is_inside ? "worth-taken" : "wrong"} role="status">
          {taken.is_inside ? "✓" : "!"} {taken.text}
        </p>
      )}
      {text && <p className="notice">{text}</p>}
      <button type="button" className="outlined" onClick={onReadings}>
        {words.toReadings}
      </button>
    </div>
  );
}
