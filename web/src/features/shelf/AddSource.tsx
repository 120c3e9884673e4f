/** One more source for a figure: a listing that says otherwise, or a bench test. */
import { useLeft } from "../../app/useLeft";
import { texts } from "../../texts";
import { isFine, NOTHING, type Typed, valueOf } from "../quantity/QuantityEntry";
import type { Source } from "../quantity/SourceOptions";
import { type PartDetail, useAddClaim } from "./queries";
import { refusalOf } from "./refusalOf";
import { SourceFields } from "./SourceFields";
import { ValueInput } from "./ValueInput";

const words = texts.shelf;

const NONE: Record<"low" | "typical" | "high", Typed> = { low: NOTHING, typical: NOTHING, high: NOTHING };

interface Props {
  part: PartDetail;
  /** It is on the shelf: the next one begins anew. */
  onAdded: () => void;
}

export function AddSource({ part, onAdded }: Props) {
  const { form, change, forget } = useLeft(`source:${part.id}`, {
    field: part.known[0]?.name ?? "",
    typed: NONE,
    source: "" as Source,
    where: "",
    inUse: true,
  });
  const { field, typed, source, where, inUse } = form;
  const add = useAddClaim(part.id, () => {
    forget();
    onAdded();
  });
  const known = part.known.find((entry) => entry.name === field);
  const typical = valueOf(typed.typical);
  const low = valueOf(typed.low) ?? typical;
  const high = valueOf(typed.high) ?? typical;
  const isReady =
    typical !== null &&
    low !== null &&
    high !== null &&
    isFine(typed.low) &&
    isFine(typed.high) &&
    source !== "" &&
    where.trim() !== "";
  return (
    <details className="add-source">
      <summary>{words.addSource}</summary>
      <div className="source-form">
        <label className="source-where">
          {words.figure}
          <select value={field} onChange={(event) => change({ field: event.target.value, typed: NONE })}>
            {part.known.map((entry) => (
              <option key={entry.name} value={entry.name}>
                {entry.label}
              </option>
            ))}
          </select>
        </label>
        {(known?.words.length ? (["typical"] as const) : (["low", "typical", "high"] as const)).map(
          (name) => (
            <ValueInput
              key={name}
              name={field}
              label={known?.words.length ? words.value : words[name]}
              words={known?.words ?? []}
              typed={typed[name]}
              onTyped={(value) => change({ typed: { ...typed, [name]: value } })}
            />
          ),
        )}
        <SourceFields label={words.source} source={source} where={where} onSaid={change} />
        <label className="check">
          <input
            type="checkbox"
            checked={inUse}
            onChange={(event) => change({ inUse: event.target.checked })}
          />{" "}
          {words.putInUse}
        </label>
        <button
          type="button"
          className="solid"
          disabled={!isReady || add.isPending}
          onClick={() =>
            source !== "" &&
            typical !== null &&
            low !== null &&
            high !== null &&
            add.mutate({
              version: part.version ?? 1,
              field,
              low,
              typical,
              high,
              source,
              where,
              in_use: inUse,
            })
          }
        >
          {words.add}
        </button>
      </div>
      {add.isError && (
        <p className="wrong" role="alert">
          {refusalOf(add.error)}
        </p>
      )}
    </details>
  );
}
