/** What tasks take: the range, the firm's marks, and what comes of both; an administrator sets the range. */
import { useState } from "react";
import { localNumber } from "../../format";
import { say, texts } from "../../texts";
import { type TaskRow, useSetMinutes, useTaskMinutes } from "./queries";

const words = texts.visits;
const NAMES = ["low", "typical", "high"] as const;

export function TaskMinutes({ maySet }: { maySet: boolean }) {
  const rows = useTaskMinutes();
  const set = useSetMinutes();
  if (rows.data === undefined) {
    return rows.isError ? (
      <p className="wrong" role="alert">
        {rows.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  return (
    <div className="along">
      <p className="quiet">{words.minutesLead}</p>
      {set.isError && (
        <p className="wrong" role="alert">
          {set.error.message}
        </p>
      )}
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">{words.task}</th>
            {NAMES.map((name) => (
              <th key={name} scope="col">
                {words.spans[name]}
              </th>
            ))}
            <th scope="col">{words.marks}</th>
            <th scope="col">{words.nowTakes}</th>
          </tr>
        </thead>
        <tbody>
          {rows.data.map((row) => (
            <Row
              key={`${row.task} ${row.version}`}
              row={row}
              maySet={maySet}
              onSet={(given) => set.mutate({ task: row.task, version: row.version, ...given })}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

type Span = Record<(typeof NAMES)[number], number>;

interface RowProps {
  row: TaskRow;
  maySet: boolean;
  onSet: (given: Span) => void;
}

function Row({ row, maySet, onSet }: RowProps) {
  const [typed, type] = useState<Partial<Record<(typeof NAMES)[number], string>>>({});
  const textOf = (name: (typeof NAMES)[number]) => typed[name] ?? localNumber(String(row[name]));
  const valueOf = (name: (typeof NAMES)[number]) => Number(textOf(name).replace(",", "."));
  const isChanged = NAMES.some((name) => valueOf(name) !== row[name]);
  const isWhole = NAMES.every((name) => textOf(name).trim() !== "" && Number.isFinite(valueOf(name)));
  return (
    <tr>
      <th scope="row">
        {row.text}
        <small>{row.is_own ? say(words.ownRange, { who: row.by }) : words.tradeRange}</small>
      </th>
      {NAMES.map((name) => (
        <td key={name}>
          {maySet ? (
            <input
              className="figure plan-minutes"
              inputMode="decimal"
              aria-label={say(words.spanOf, { span: words.spans[name], task: row.text })}
              value={textOf(name)}
              onChange={(event) => type({ ...typed, [name]: event.target.value })}
            />
          ) : (
            <span className="figure">{localNumber(String(row[name]))}</span>
          )}
        </td>
      ))}
      <td className="figure">{row.marks}</td>
      <td>
        <span className="figure">
          {NAMES.map((name) => localNumber(String(row.now[name]))).join(" – ")} min
        </span>
        {maySet && isChanged && (
          <button
            type="button"
            className="solid"
            disabled={!isWhole}
            onClick={() => onSet({ low: valueOf("low"), typical: valueOf("typical"), high: valueOf("high") })}
          >
            {say(words.keepSpan, { task: row.text })}
          </button>
        )}
      </td>
    </tr>
  );
}
