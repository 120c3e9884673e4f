/** One pair, asked for by name: typed from the tester, or read by the meter and then kept. */
import { useEffect, useRef, useState } from "react";
import { isFieldFocused } from "../../app/keys";
import { useLatest } from "../../app/useLatest";
import { say, texts } from "../../texts";
import { NOTHING, QuantityEntry, valueOf } from "../quantity/QuantityEntry";
import { LOW_IMPEDANCE_OHM } from "../useOwnMeter";
import { useMeter, useReadMeter } from "./queries";
import type { StepProps } from "./stepProps";

const words = texts.isolation;

interface Props extends StepProps {
  proof: string;
  pair: { a: string; b: string; text: string };
  done: number;
  of: number;
}

export function PairAsk({ survey, entries, proof, pair: next, done, of }: Props) {
  const [typed, setTyped] = useState(NOTHING);
  const [isWrong, setWrong] = useState(false);
  const [asked, ask] = useState(next);
  const isNext = asked.a === next.a && asked.b === next.b;
  const pair = isNext ? next : asked;
  // What is being typed is of the pair that it was begun for, though a colleague reads that one meanwhile.
  if (!isNext && typed.text === "") {
    ask(next);
    setWrong(false);
  }
  const [shown, setShown] = useState<{ id: string; v: number; text: string; isSimulated: boolean } | null>(
    null,
  );
  const field = useRef<HTMLInputElement>(null);
  const meter = useMeter();
  const read = useReadMeter(survey.loop);
  const latest = useLatest(asked);
  // The next pair is asked for where the hands are; a pair may also come from somebody else.
  useEffect(() => {
    if (done > 0 && !isFieldFocused()) field.current?.focus();
  }, [done]);
  const keep = () => {
    const isShown = shown !== null && typed.text === shown.text;
    const v = isShown ? shown.v : valueOf(typed);
    if (v === null) return setWrong(true);
    const body = { proof, kind: "reading", a: pair.a, b: pair.b, v } as const;
    entries.proofEvent(isShown ? { ...body, meter_value: shown.id } : body, pair.text);
    setTyped(NOTHING);
    setShown(null);
    read.reset();
    return undefined;
  };
  const byMeter = () =>
    read.mutate(
      { function: "volts", place: survey.place, a: pair.a, b: pair.b, meter_r_ohm: LOW_IMPEDANCE_OHM },
      {
        onSuccess: (value) => {
          // Another pair is asked for by now.
          if (latest.current !== asked) return;
          const text = `${value.v} V`;
          setShown({ id: value.id, v: value.v ?? 0, text, isSimulated: value.is_simulated });
          setTyped({ text, reading: { is: "value", value: value.v ?? 0 } });
          setWrong(false);
          field.current?.focus();
        },
      },
    );
  return (
    <div className="pair-ask">
      <p>
        <small>
          {words.now}, {say(words.ofPairs, { pair: isNext ? done + 1 : done, of })}
        </small>
        <b className="pair-name">{pair.text}</b>
        <small>{say(words.limit, { limit: survey.proof.dead_limit_v })}</small>
      </p>
      <QuantityEntry
        name="reading_v"
        label={words.volts}
        typed={typed}
        inputRef={field}
        error={isWrong && typed.text.trim() === "" ? words.notVolts : undefined}
        onTyped={(next) => {
          setTyped(next);
          setWrong(false);
        }}
        onEnter={keep}
      />
      <button type="button" className="solid" onClick={keep}>
        {words.keep}
      </button>
      {meter.data?.is_there && (
        <button type="button" className="outlined" disabled={read.isPending} onClick={byMeter}>
          {words.byMeter}
          {meter.data.is_stand_in && ` (${words.simulated})`}
        </button>
      )}
      {read.isError && (
        <p className="wrong" role="alert">
          {read.error.message}
        </p>
      )}
    </div>
  );
}
