/** Which bypass: the window of each kind drawn and in words, its limits, and everything ranked. */
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { engineering, localNumber, significant } from "../../../format";
import { QuantityInput } from "../../quantity/QuantityInput";
import { say, texts } from "../../../texts";
import { asFigure, type Draft } from "../draft";
import type { Choice, Choosing, Year } from "./queries";
import { TakeButton } from "./TakeButton";
import { type StripKind, WindowStrip } from "./WindowStrip";
import { sharesOf } from "./words";

const words = texts.choose;
const KINDS = Object.keys(words.kinds) as StripKind[];
const VALUE_OF: Record<StripKind, string> = { capacitor: "c_f", resistor: "r_ohm", active: "i_limit_a" };
const UNIT_OF: Record<StripKind, string> = { capacitor: "F", resistor: "Ω", active: "A" };
const J_PER_KWH = 3.6e6;
type Part = Schemas["Part"];

interface Props {
  found: Choosing;
  draft: Draft;
  shelf: Part[];
  year: Year;
  onYear: (year: Year) => void;
  onTake: (choice: Choice) => void;
}

export function Which({ found, draft, shelf, year, onYear, onTake }: Props) {
  const [kind, setKind] = useState<StripKind>("capacitor");
  const window = found[kind];
  const valueOf = (choice: Choice) => {
    const figures = choice.figures ?? shelf.find((part) => part.id === choice.part)?.figures;
    return asFigure(figures?.[VALUE_OF[kind]])?.typical;
  };
  const ticks = found.parts
    .filter((choice) => choice.kind === kind)
    .flatMap((choice) => {
      const value = valueOf(choice);
      return value === undefined ? [] : [{ value, choice }];
    });
  const fitted = draft.bypasses.flatMap((fit) => {
    const figure = fit.figures["kind"] === kind ? asFigure(fit.figures[VALUE_OF[kind]]) : null;
    return figure ? [figure.typical] : [];
  });
  const kept = found.parts.filter((choice) => choice.verdict !== "rejected");
  const rejected = found.parts.filter((choice) => choice.verdict === "rejected");
  return (
    <>
      {found.none_needed && (
        <p className="is-dark">
          <b>✓ {words.noneNeeded}</b>
        </p>
      )}
      {found.none_cures && (
        <p className="wrong" role="status">
          <b>✗ {found.none_cures}</b>
        </p>
      )}
      {found.ended && (
        <p className="wrong" role="status">
          {found.ended}
        </p>
      )}
      <div className="kind-row">
        <h2>{words.title}</h2>
        <div className="kind-buttons" role="group" aria-label={words.kindOf}>
          {KINDS.map((name) => (
            <button key={name} type="button" aria-pressed={name === kind} onClick={() => setKind(name)}>
              {words.kinds[name]}
            </button>
          ))}
        </div>
      </div>
      <WindowStrip
        kind={kind}
        window={window}
        isComplete={found.is_complete}
        fitted={fitted}
        ticks={ticks}
        onTake={onTake}
      />
      <details className="limits">
        <summary>{words.limits}</summary>
        <ul>
          {window.limits.map((limit) => (
            <li key={limit.reason}>
              <span>{limit.text}</span>
              <b className="figure">
                {limit.value === null ? words.noLimit : engineering(limit.value, UNIT_OF[kind])}
              </b>
            </li>
          ))}
        </ul>
      </details>
      <div className="kind-row">
        <h3>{words.shelf}</h3>
        <YearForm year={year} onYear={onYear} />
      </div>
      <p className="ranked-head" aria-hidden>
        {words.columns.map((column) => (
          <span key={column}>{column}</span>
        ))}
      </p>
      <ol className="ranked">
        {kept.map((choice) => (
          <Ranked key={choice.rank} choice={choice} onTake={onTake} />
        ))}
      </ol>
      {rejected.length > 0 && (
        <details className="limits" open={kept.length === 0}>
          <summary>{say(words.rejected, { count: rejected.length })}</summary>
          <ol className="ranked">
            {rejected.map((choice) => (
              <Ranked key={choice.rank} choice={choice} onTake={onTake} />
            ))}
          </ol>
        </details>
      )}
    </>
  );
}

function Ranked({ choice, onTake }: { choice: Choice; onTake: (choice: Choice) => void }) {
  const kwh = choice.year_j === null ? null : choice.year_j / J_PER_KWH;
  return (
    <li className={`ranked-${choice.verdict}`}>
      <span>
        <b>{choice.name}</b>
        <small>{choice.reasons.map((reason) => reason.text).join(" ")}</small>
      </span>
      <span>
        <b>{words.verdicts[choice.verdict]}</b>
        {sharesOf(choice).map((share) => (
          <small key={share}>{share}</small>
        ))}
      </span>
      <span className="figure">
        {choice.reactive_a > 0 && <span>{engineering(choice.reactive_a, "A")}</span>}
        <span>{choice.heat_w === null ? "?" : engineering(choice.heat_w, "W")}</span>
        <small>{words.whenOn}</small>
        {kwh !== null && kwh > 0 && (
          <small>
            {significant(kwh, 2)} kWh {words.aYear}
            {choice.year_cost === null ? "" : ` (${localNumber(choice.year_cost.toFixed(2))})`}
          </small>
        )}
      </span>
      <TakeButton choice={choice} onTake={onTake} />
    </li>
  );
}

function YearForm({ year, onYear }: { year: Year; onYear: (year: Year) => void }) {
  return (
    <div className="year-form">
      <QuantityInput
        name="hours_a_year"
        label={words.hours}
        value={year.hours}
        isNeeded
        onChange={(hours) => hours !== null && onYear({ ...year, hours })}
      />
      <QuantityInput
        name="price_per_kwh"
        label={words.price}
        value={year.price}
        hint="–"
        onChange={(price) => onYear({ ...year, price })}
      />
    </div>
  );
}
