/** What the server finds wrong with what is on the bench, and with which part of it. */
import type { Refusal } from "../../../api/client";
import { texts, wordOf } from "../../../texts";

/** "lamps[1].v_stop_v" concerns lamp group 2: a place as people name it, never a name of the data. */
function placeOf(path: string): string {
  const match = /^(\w+)(?:\[(\d+)\])?/.exec(path);
  const name = wordOf(texts.places, match?.[1] ?? "");
  if (name === undefined) return "";
  return match?.[2] === undefined ? name : `${name} ${Number(match[2]) + 1}`;
}

export function FieldErrors({ problem }: { problem: Refusal }) {
  return (
    <div className="notice wrong" role="alert">
      <ul>
        {problem.errors.map((error) => (
          <li key={`${error.path}-${error.code}`}>
            {placeOf(error.path) && <b>{placeOf(error.path)}: </b>}
            {error.text}
          </li>
        ))}
        {problem.errors.length === 0 && <li>{problem.message}</li>}
      </ul>
    </div>
  );
}
