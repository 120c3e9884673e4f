/** When the circuits may be off. */
import { say, texts } from "../../texts";
import type { Schemas } from "../../api/client";
import type { Draft } from "./planDraft";

const words = texts.visits;

interface Props {
  circuits: readonly Schemas["Circuit"][];
  windows: Draft["windows"];
  onChange: (windows: Draft["windows"]) => void;
}

export function PlanWindows({ circuits, windows, onChange }: Props) {
  return (
    <ul className="plan-windows">
      {circuits.map((circuit) => {
        const [from, until] = windows[circuit.id] ?? ["", ""];
        const put = (next: [string, string]) => onChange({ ...windows, [circuit.id]: next });
        return (
          <li key={circuit.id}>
            <span>
              <b>{say(words.breaker, { breaker: circuit.breaker })}</b>{" "}
              {circuit.label_now || circuit.label_as_found}
            </span>
            <input
              type="time"
              aria-label={say(words.offFrom, { breaker: circuit.breaker })}
              value={from}
              onChange={(event) => put([event.target.value, until])}
            />
            –
            <input
              type="time"
              aria-label={say(words.offUntil, { breaker: circuit.breaker })}
              value={until}
              onChange={(event) => put([from, event.target.value])}
            />
          </li>
        );
      })}
    </ul>
  );
}
