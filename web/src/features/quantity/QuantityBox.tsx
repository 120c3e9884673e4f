/** How every figure's field looks: name and unit above, what is wrong or asked about below. */
import { type InputHTMLAttributes, type ReactNode, type Ref, useId } from "react";
import { engineering } from "../../format";
import { say, texts } from "../../texts";
import type { Reading } from "./reading";
import { fieldUnit, type Usual } from "./usual";
import "./quantity.css";

const words = texts.quantity;

interface Props {
  label: string;
  /** The whole name, where the one on the screen is short. */
  spoken?: string | undefined;
  usual: Usual;
  isWhole: boolean;
  isNeeded?: boolean;
  /** What was read when the field was left; null while it is being typed in. */
  read: Reading | null;
  error?: string | undefined;
  input: InputHTMLAttributes<HTMLInputElement> & { ref?: Ref<HTMLInputElement> };
  onAnswer: (value: number) => void;
  /** Beside the field, as the source of the figure. */
  beside?: ReactNode;
  more?: ReactNode;
}

export function QuantityBox(props: Props) {
  const { label, usual, isWhole, isNeeded = false, read, error, input, onAnswer, beside, more } = props;
  const id = useId();
  const said = read?.is === "wrong" ? wrongText(read.why, usual) : error;
  const unit = fieldUnit(usual);
  return (
    <div className={`field quantity${said ? " is-wrong" : ""}`}>
      <span className="quantity-head">
        <label htmlFor={id}>{label}</label>
        {unit !== "" && (
          <small id={`${id}-unit`} className="figure">
            {unit}
          </small>
        )}
        {isNeeded && <small className="needed">{words.needed}</small>}
      </span>
      <span className="quantity-row">
        <input
          {...input}
          id={id}
          aria-label={props.spoken}
          className="figure"
          autoComplete="off"
          inputMode={isWhole ? "numeric" : "text"}
          aria-invalid={said ? true : undefined}
          aria-describedby={`${id}-unit ${id}-more`}
        />
        {beside}
      </span>
      <span id={`${id}-more`} className={said ? "field-more" : "figure-more"}>
        {said ?? more}
      </span>
      {read?.is === "doubt" && <Doubt read={read} usual={usual} label={label} onAnswer={onAnswer} />}
    </div>
  );
}

function wrongText(why: Extract<Reading, { is: "wrong" }>["why"], usual: Usual): string {
  if (why !== "unit") return words.wrong[why];
  return usual.unit === "1" ? words.wrong.noUnit : say(words.wrong.unit, { unit: fieldUnit(usual) });
}

interface DoubtProps {
  read: Extract<Reading, { is: "doubt" }>;
  usual: Usual;
  label: string;
  onAnswer: (value: number) => void;
}

/** A value far from what is usual is asked about before it counts. */
function Doubt({ read, usual, label, onAnswer }: DoubtProps) {
  const told = (value: number) => engineering(value, usual.unit);
  const { value, instead } = read;
  return (
    <span className="quantity-doubt" role="alert">
      {say(words.doubt, { value: told(value), low: told(usual.low), high: told(usual.high) })}
      <span className="form-buttons">
        {instead !== null && (
          <button
            type="button"
            className="solid"
            aria-label={`${label}: ${say(words.meant, { value: told(instead) })}`}
            onClick={() => onAnswer(instead)}
          >
            {say(words.meant, { value: told(instead) })}
          </button>
        )}
        <button
          type="button"
          className="outlined"
          aria-label={`${label}: ${say(words.asTyped, { value: told(value) })}`}
          onClick={() => onAnswer(value)}
        >
          {say(words.asTyped, { value: told(value) })}
        </button>
      </span>
    </span>
  );
}
