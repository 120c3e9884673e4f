/** Where a figure can be from, as the options of a list. */
import { texts } from "../../texts";

/** Nobody knows until it is said. */
export type Source = "" | "declared" | "measured" | "assumed";

export function SourceOptions() {
  return (
    <>
      {Object.entries(texts.parts.sources).map(([value, label]) => (
        <option key={value} value={value}>
          {label}
        </option>
      ))}
    </>
  );
}
