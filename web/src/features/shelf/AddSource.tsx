/** One more source for a figure: a listing that says otherwise, or a bench test. */
import { useState } from "react";
import { readQuantity } from "../../format";
import { texts } from "../../texts/en";
import { type PartDetail, useAddClaim } from "./queries";
import { ValueInput } from "./ValueInput";

const words = texts.shelf;
type Source = "declared" | "measured" | "assumed";

export function AddSource({ part }: { part: PartDetail }) {
  const add = useAddClaim(part.id);
  const [field, setField] = useState(part.known[0]?.name ?? "");
  const [typed, setTyped] = useState({ low: "", typical: "", high: "" });
  const [source, setSource] = useState<Source>("measured");
  const [where, setWhere] = useState("");
  const [inUse, setInUse] = useState(true);
  const known = part.known.find((entry) => entry.name === field);
  const unit = known?.unit ?? "";
  const typical = readQuantity(typed.typical, unit);
  const low = typed.low.trim() === "" ? typical : readQuantity(typed.low, unit);
  const high = typed.high.trim() === "" ? typical : readQuantity(typed.high, unit);
  const isReady = typical !== null && low !== null && high !== null && where.trim() !== "";
  const isWrong = typed.typical.trim() !== "" && (typical === null || low === null || high === null);
  return (
    <details className="add-source">
      <summary>{words.addSource}</summary>
      <div className="source-form">
        <label>
          {words.figure}
          <select
            value={field}
            onChange={(event) => {
              setField(event.target.value);
              setTyped({ low: "", typical: "", high: "" });
            }}
          >
            {part.known.map((entry) => (
              <option key={entry.name} value={entry.name}>
                {entry.label} {entry.unit === "1" ? "" : `[${entry.unit}]`}
              </option>
            ))}
          </select>
        </label>
        {(known?.words.length ? (["typical"] as const) : (["low", "typical", "high"] as const)).map(
          (name) => (
            <label key={name}>
              {known?.words.length ? words.value : words[name]}
              <ValueInput
                words={known?.words ?? []}
                value={typed[name]}
                onChange={(value) => setTyped({ ...typed, [name]: value })}
              />
            </label>
          ),
        )}
        <label>
          {words.source}
          <select value={source} onChange={(event) => setSource(event.target.value as Source)}>
            {Object.entries(texts.parts.sources).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <label className="source-where">
          {words.where}
          <input value={where} maxLength={300} onChange={(event) => setWhere(event.target.value)} />
        </label>
        <label className="check">
          <input type="checkbox" checked={inUse} onChange={(event) => setInUse(event.target.checked)} />{" "}
          {words.putInUse}
        </label>
        <button
          type="button"
          className="solid"
          disabled={!isReady || add.isPending}
          onClick={() =>
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
      {(isWrong || add.isError) && (
        <p className="wrong" role="alert">
          {isWrong ? texts.parts.notANumber : add.error?.message}
        </p>
      )}
    </details>
  );
}
