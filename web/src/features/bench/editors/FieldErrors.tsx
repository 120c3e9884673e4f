/** What the server finds wrong with what is on the bench. */
import type { Refusal } from "../../../api/client";

export function FieldErrors({ problem }: { problem: Refusal }) {
  return (
    <div className="notice wrong" role="alert">
      <ul>
        {problem.errors.map((error) => (
          <li key={`${error.path}-${error.code}`}>
            {error.text} {error.path && <code>{error.path}</code>}
          </li>
        ))}
        {problem.errors.length === 0 && <li>{problem.message}</li>}
      </ul>
    </div>
  );
}
