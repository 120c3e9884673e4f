/** One program: its kind, its days, its times. */
import { say, texts } from "../../texts";
import { DAYS, KINDS, type Kind, type ProgramDraft } from "./programs";

const words = texts.setup.programs;

interface Props {
  number: number;
  program: ProgramDraft;
  errors: ReadonlyMap<string, string>;
  onProgram: (next: ProgramDraft) => void;
  onRemove: () => void;
}

type Field = "on" | "off" | "at" | "minutes" | "onMinutes" | "offMinutes";

export function ProgramRow({ number, program, errors, onProgram, onRemove }: Props) {
  const at = `programs[${number - 1}]`;
  const field = (name: Field, label: string, key: string, hint?: string) => {
    const error = errors.get(`${at}.${key}`);
    return (
      <label className="field">
        {label}
        <input
          value={program[name]}
          maxLength={20}
          inputMode={hint === undefined ? "numeric" : undefined}
          aria-invalid={error !== undefined}
          onChange={(event) => onProgram({ ...program, [name]: event.target.value })}
        />
        {error ? <small className="wrong">{error}</small> : hint && <small>{hint}</small>}
      </label>
    );
  };
  const isWeekly = program.kind === "weekly";
  const daysError = errors.get(`${at}.days`);
  return (
    <fieldset className="row-set program">
      <legend>{say(words.program, { number })}</legend>
      <label className="field is-kind">
        {words.kind}
        <select
          value={program.kind}
          onChange={(event) => onProgram({ ...program, kind: event.target.value as Kind, rest: {} })}
        >
          {KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {words.kinds[kind]}
            </option>
          ))}
        </select>
      </label>
      {program.kind === "auto_off" ? (
        field("minutes", words.minutes, "minutes")
      ) : program.kind === "count_down" ? (
        <>
          {field("at", words.at, "at", words.atHint)}
          {field("minutes", words.later, "minutes")}
          <label className="field">
            {words.sets}
            <select
              value={program.sets}
              onChange={(event) => onProgram({ ...program, sets: event.target.value })}
            >
              <option value="off">{words.setsOff}</option>
              <option value="on">{words.setsOn}</option>
            </select>
          </label>
        </>
      ) : (
        <>
          <div className="field" role="group" aria-label={words.days}>
            {words.days}
            <span className="day-picks">
              {DAYS.map((day) => (
                <label key={day}>
                  <input
                    type="checkbox"
                    checked={program.days.includes(day)}
                    onChange={(event) =>
                      onProgram({
                        ...program,
                        days: DAYS.filter((one) =>
                          one === day ? event.target.checked : program.days.includes(one),
                        ),
                      })
                    }
                  />
                  {words.day[day]}
                </label>
              ))}
            </span>
            {daysError && <small className="wrong">{daysError}</small>}
          </div>
          {field("on", isWeekly ? words.on : words.from, isWeekly ? "on" : "from", words.hint)}
          {field("off", isWeekly ? words.off : words.to, isWeekly ? "off" : "to", words.hint)}
          {!isWeekly && field("onMinutes", words.onMinutes, "on_minutes")}
          {!isWeekly && field("offMinutes", words.offMinutes, "off_minutes")}
        </>
      )}
      <button
        type="button"
        className="plain"
        aria-label={say(words.remove, { number })}
        title={say(words.remove, { number })}
        onClick={onRemove}
      >
        ✕
      </button>
    </fieldset>
  );
}
