/** A list of alike things as rows of fields: text is typed freely and read when the whole is kept. */
import { say, texts } from "../../texts";

const words = texts.setup.form;

export type Row = Record<string, string>;

export interface Column {
  key: string;
  label: string;
  /** A text of digits stays a text until the whole is kept. */
  type: "text" | "number" | "select" | "many";
  options?: readonly (readonly [value: string, label: string])[];
  isWide?: boolean;
  /** What counts where nothing is typed. */
  otherwise?: (row: Row) => string;
}

interface Props {
  title: string;
  /** Its name in the document, by which errors say where they are. */
  path: string;
  columns: readonly Column[];
  rows: readonly Row[];
  fresh: () => Row;
  errors: ReadonlyMap<string, string>;
  /** What else follows from what was typed. */
  filled?: (row: Row, key: string) => Row;
  onRows: (rows: Row[]) => void;
}

const asTyped = (row: Row): Row => row;

export function Rows({ title, path, columns, rows, fresh, errors, filled = asTyped, onRows }: Props) {
  const change = (at: number, key: string, value: string) =>
    onRows(rows.map((row, k) => (k === at ? filled({ ...row, [key]: value }, key) : row)));
  return (
    <section className={columns.length < 4 ? "rows is-short" : "rows"} aria-label={title}>
      <h2>{title}</h2>
      {rows.map((row, k) => (
        <fieldset key={row["id"] ?? k} className="row-set">
          <legend>{say(words.row, { what: title, number: k + 1 })}</legend>
          {columns.map((column) => {
            const error = errors.get(`${path}[${k}].${column.key}`);
            if (column.type === "many") {
              return (
                <Many
                  key={column.key}
                  column={column}
                  value={row[column.key] ?? ""}
                  onValue={(value) => change(k, column.key, value)}
                />
              );
            }
            return (
              <label key={column.key} className={column.isWide ? "field is-wide" : "field"}>
                {column.label}
                {column.type === "select" ? (
                  <select
                    value={row[column.key] ?? ""}
                    aria-invalid={error !== undefined}
                    onChange={(event) => change(k, column.key, event.target.value)}
                  >
                    {column.options?.map(([value, label]) => (
                      <option key={value} value={value}>
                        {label}
                      </option>
                    ))}
                  </select>
                ) : (
                  <input
                    value={row[column.key] ?? ""}
                    maxLength={80}
                    placeholder={column.otherwise?.(row)}
                    inputMode={column.type === "number" ? "decimal" : undefined}
                    aria-invalid={error !== undefined}
                    onChange={(event) => change(k, column.key, event.target.value)}
                  />
                )}
                {error && <small className="wrong">{error}</small>}
              </label>
            );
          })}
          <button
            type="button"
            className="plain"
            aria-label={`${words.remove}: ${say(words.row, { what: title, number: k + 1 })}`}
            onClick={() => onRows(rows.filter((_, n) => n !== k))}
          >
            ✕
          </button>
          {errors.get(`${path}[${k}]`) && <p className="wrong">{errors.get(`${path}[${k}]`)}</p>}
        </fieldset>
      ))}
      {errors.get(path) && <p className="wrong">{errors.get(path)}</p>}
      <button type="button" className="outlined" onClick={() => onRows([...rows, fresh()])}>
        {words.add}: {title}
      </button>
    </section>
  );
}

/** Some of many; none of them: any. The value is the chosen ones with commas. */
function Many({
  column,
  value,
  onValue,
}: {
  column: Column;
  value: string;
  onValue: (value: string) => void;
}) {
  const chosen = value === "" ? [] : value.split(",");
  return (
    <details className="field is-wide">
      <summary>
        {column.label}:{" "}
        {chosen.length === 0
          ? words.anything
          : (column.options ?? [])
              .filter(([code]) => chosen.includes(code))
              .map(([, label]) => label)
              .join(", ")}
      </summary>
      {column.options?.map(([code, label]) => (
        <label key={code} className="check">
          <input
            type="checkbox"
            checked={chosen.includes(code)}
            onChange={(event) =>
              onValue(
                (event.target.checked ? [...chosen, code] : chosen.filter((one) => one !== code)).join(","),
              )
            }
          />
          {label}
        </label>
      ))}
    </details>
  );
}
