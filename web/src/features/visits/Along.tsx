/** What is taken along: needed, with spares, in the van, to buy; tools; kits that lack something. */
import { useState } from "react";
import { Link } from "react-router";
import { keep, kept } from "../../app/person";
import { localNumber } from "../../format";
import { say, texts } from "../../texts";
import { type Material, type Plan, useMaterials, useSetVan, vanName } from "./queries";

const words = texts.visits;

export function Along({ plan, mayEdit }: { plan: Plan; mayEdit: boolean }) {
  const [visit, setVisit] = useState<number | null>(null);
  const materials = useMaterials(plan.id, visit);
  const van = useSetVan();
  if (materials.data === undefined) {
    return materials.isError ? (
      <p className="wrong" role="alert">
        {materials.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  const { rows, tools, kits } = materials.data;
  return (
    <div className="along">
      {plan.planned.length > 1 && (
        <label className="field">
          {words.whose}
          <select
            value={visit ?? ""}
            onChange={(event) => setVisit(event.target.value === "" ? null : Number(event.target.value))}
          >
            <option value="">{words.allVisits}</option>
            {plan.planned.map((one) => (
              <option key={one.number} value={one.number}>
                {one.person_name}, {say(words.dayN, { number: one.day + 1 })}
              </option>
            ))}
          </select>
        </label>
      )}
      {rows.length === 0 ? (
        <p className="empty">{words.nothingAlong}</p>
      ) : (
        <table className="rows figures-wide">
          <thead>
            <tr>
              <th scope="col">{words.what}</th>
              <th scope="col">{words.needed}</th>
              <th scope="col">{words.withSpare}</th>
              <th scope="col">{words.inVan}</th>
              <th scope="col">{words.toBuy}</th>
              <th scope="col">{words.costs}</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.key}>
                <th scope="row">
                  {row.text}
                  <small>
                    {row.why}: {row.loops.join(", ")}
                  </small>
                </th>
                {row.is_known ? (
                  <>
                    <td className="figure">{amount(row.needed, row.unit)}</td>
                    <td className="figure">{amount(row.with_spare, row.unit)}</td>
                    <td>
                      <InVan
                        row={row}
                        mayEdit={mayEdit}
                        isSending={van.isPending}
                        onSay={(count) => van.mutate({ key: row.key, version: row.van_version, count })}
                      />
                    </td>
                    <td className="figure">
                      <b>{amount(row.to_buy, row.unit)}</b>
                      {row.pack > 1 && row.to_buy > 0 && (
                        <small>
                          {say(words.packs, { packs: Math.ceil(row.to_buy / row.pack), pack: row.pack })}
                        </small>
                      )}
                    </td>
                    <td className="figure">
                      {row.cost === null ? (row.to_buy > 0 ? "?" : "") : localNumber(row.cost.toFixed(2))}
                    </td>
                  </>
                ) : (
                  <td colSpan={5}>{words.measureThere}</td>
                )}
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <th scope="row" colSpan={5}>
                {words.sum}
                {materials.data.unpriced > 0 && (
                  <small>{say(words.unpriced, { count: materials.data.unpriced })}</small>
                )}
              </th>
              <td className="figure">{localNumber(materials.data.cost.toFixed(2))}</td>
            </tr>
          </tfoot>
        </table>
      )}
      {van.isError && (
        <p className="wrong" role="alert">
          {van.error.message}
        </p>
      )}
      {kits.length > 0 && (
        <section aria-label={words.kits}>
          <h2>{words.kits}</h2>
          <ul className="left-out">
            {kits.map((kit) => (
              <li key={kit.loop}>
                <Link to={`/loops/${kit.loop}?step=fit`}>{kit.name}</Link>{" "}
                {kit.is_checked
                  ? say(words.kitLacks, { part: kit.part, what: kit.missing.join(", ") })
                  : say(words.kitUnchecked, { part: kit.part, what: kit.items.join(", ") })}
              </li>
            ))}
          </ul>
        </section>
      )}
      {tools.length > 0 && (
        <section aria-label={words.tools}>
          <h2>{words.tools}</h2>
          <ul className="tools">
            {tools.map((tool) => (
              <li key={tool.tool}>{tool.text}</li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function amount(value: number, unit: string): string {
  return `${localNumber(String(Math.round(value * 100) / 100))}${unit ? ` ${unit}` : ""}`;
}

interface InVanProps {
  row: Material;
  mayEdit: boolean;
  isSending: boolean;
  onSay: (count: number) => void;
}

/** How much of it is in the van; kept when the field is left. What did not arrive stays on this device until it does. */
function InVan({ row, mayEdit, isSending, onSay }: InVanProps) {
  const name = vanName(row.key);
  // Null where nothing is typed: then it follows the record.
  const [typed, type] = useState(() => kept<string>(name));
  const [seen, see] = useState(row.van_version);
  const shown = typed ?? String(row.in_van);
  const count = Number(shown.replace(",", "."));
  const isNumber = shown.trim() !== "" && Number.isFinite(count);
  const isUnsent = !isSending && count !== row.in_van && kept(name) !== null;
  if (row.van_version !== seen) {
    see(row.van_version);
    // It has arrived; what was typed since stays.
    if (count === row.in_van) type(null);
  }
  const send = () => {
    if (!isNumber) return;
    keep(name, count === row.in_van ? null : shown);
    if (count === row.in_van) type(null);
    else onSay(count);
  };
  return (
    <>
      <input
        className="van-count figure"
        inputMode="decimal"
        aria-label={say(words.vanOf, { what: row.text })}
        aria-invalid={!isNumber}
        value={shown}
        disabled={!mayEdit}
        onChange={(event) => type(event.target.value)}
        onBlur={send}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
        }}
      />
      {!isNumber && (
        <small className="wrong" role="alert">
          {words.notANumber}
        </small>
      )}
      {isUnsent && isNumber && (
        <small>
          {say(words.vanUnsent, { count: amount(row.in_van, row.unit) })}{" "}
          <button type="button" className="outlined" onClick={send}>
            {texts.bench.keep}
          </button>
        </small>
      )}
    </>
  );
}
