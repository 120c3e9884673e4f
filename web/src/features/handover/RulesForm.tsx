/** What the firm wants of a hand-over. */
import { texts } from "../../texts";
import { useKeepRules, useRules } from "./queries";

const words = texts.handover.rules;
const NAMES = ["needs_client", "needs_checker", "own_work"] as const;

export function RulesForm() {
  const rules = useRules().data;
  const keeping = useKeepRules();
  if (rules === undefined) return null;
  return (
    <section aria-label={words.title}>
      <h2>{words.title}</h2>
      {NAMES.map((name) => (
        <label key={name} className="check">
          <input
            type="checkbox"
            checked={rules[name] ?? false}
            disabled={keeping.isPending}
            onChange={(event) => keeping.mutate({ ...rules, [name]: event.target.checked })}
          />
          {words[name]}
        </label>
      ))}
      {keeping.isError && (
        <p className="wrong" role="alert">
          {keeping.error.message}
        </p>
      )}
    </section>
  );
}
