/** What the firm wants of a hand-over. */
import { useState } from "react";
import { texts } from "../../texts";
import { TextLine } from "../dialog/TextLine";
import { useKeepRules, useRules } from "./queries";

const words = texts.handover.rules;
const NAMES = ["needs_client", "needs_checker", "own_work"] as const;

export function RulesForm() {
  const held = useRules().data;
  const keeping = useKeepRules();
  const [contact, setContact] = useState<string | null>(null);
  if (held === undefined) return null;
  if (contact !== null && contact === held.contact) setContact(null);
  // What is on its way counts: the next tick goes upon it.
  const rules = { ...held, ...keeping.waiting };
  return (
    <section aria-label={words.title}>
      <h2>{words.title}</h2>
      {NAMES.map((name) => (
        <label key={name} className="check">
          <input
            type="checkbox"
            checked={rules[name] ?? false}
            onChange={(event) =>
              keeping.change({ ...rules, [name]: event.target.checked }, held.version ?? 0)
            }
          />
          {words[name]}
        </label>
      ))}
      <form
        className="rules-contact"
        onSubmit={(event) => {
          event.preventDefault();
          keeping.change({ ...rules, contact: contact ?? rules.contact }, held.version ?? 0);
        }}
      >
        <TextLine
          label={words.contact}
          value={contact ?? rules.contact ?? ""}
          maxLength={200}
          onChange={setContact}
        />
        <button type="submit" className="outlined" disabled={contact === null || contact === rules.contact}>
          {words.keep}
        </button>
      </form>
      {keeping.error && (
        <p className="wrong" role="alert">
          {keeping.error.message}
        </p>
      )}
    </section>
  );
}
