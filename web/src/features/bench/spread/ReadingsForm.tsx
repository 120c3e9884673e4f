/** Readings to enter, one after the other, and what is to be done with them. */
import { type ReactNode, useState } from "react";
import { engineering, readQuantity } from "../../../format";
import { texts } from "../../../texts/en";
import type { Draft } from "../draft";
import { useShelf } from "../queries";
import type { Measurement } from "./queries";

const words = texts.spread;
const METERS = [
  [1e7, "10 MΩ"],
  [4e5, "400 kΩ"],
] as const;
type Kind = Measurement["kind"];
const KINDS = Object.keys(words.kinds) as Kind[];
const SEEN: Partial<Record<Kind, Record<string, string>>> = {
  half_wave: words.halfWave,
  seen: words.seenWords,
};

/** A reading in words. */
function told(entry: Measurement): string {
  const seen = SEEN[entry.kind]?.[entry.seen ?? ""];
  if (seen) return seen;
  const meter = entry.meter_r_ohm ? ` (${engineering(entry.meter_r_ohm, "Ω")})` : "";
  return `${engineering(entry.value ?? 0, words.units[entry.kind] ?? "")}${meter}`;
}

interface Props {
  title: string;
  lead: string;
  action: string;
  draft: Draft;
  isPending: boolean;
  error: Error | null;
  onJudge: (readings: Measurement[]) => void;
  children: ReactNode;
}

export function ReadingsForm({ title, lead, action, draft, isPending, error, onJudge, children }: Props) {
  const shelf = useShelf();
  const [kind, setKind] = useState<Kind>("lamp_v");
  const [value, setValue] = useState("");
  const [meter, setMeter] = useState<number>(METERS[0][0]);
  const [group, setGroup] = useState(0);
  const [replacement, setReplacement] = useState("");
  const [readings, setReadings] = useState<Measurement[]>([]);
  const [isWrong, setWrong] = useState(false);
  const seenWords = SEEN[kind];
  const ofGroup = kind !== "lamp_v" && kind !== "line_i" && kind !== "period";
  const put = (entry: Partial<Measurement>) => {
    setReadings([...readings, { kind, group: ofGroup ? group : 0, ...entry }]);
    setValue("");
    setWrong(false);
  };
  const add = () => {
    const read = readQuantity(value, words.units[kind] ?? "");
    if (read === null || read <= 0) setWrong(true);
    else put({ value: read, meter_r_ohm: kind === "lamp_v" ? meter : null });
  };
  const addSeen = (seen: string) => {
    const part = shelf.data?.find((entry) => entry.id === replacement);
    put(kind === "seen" && part ? { seen, replacement: part.figures } : { seen });
  };
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <p className="quiet">{lead}</p>
      <div className="narrow-form">
        <select aria-label={title} value={kind} onChange={(event) => setKind(event.target.value as Kind)}>
          {KINDS.map((entry) => (
            <option key={entry} value={entry}>
              {words.kinds[entry]}
            </option>
          ))}
        </select>
        {ofGroup && draft.lamps.length > 1 && (
          <select
            aria-label={words.group}
            value={group}
            onChange={(event) => setGroup(Number(event.target.value))}
          >
            {draft.lamps.map((_, k) => (
              <option key={k} value={k}>
                {words.groupOf(k + 1)}
              </option>
            ))}
          </select>
        )}
        {kind === "lamp_v" && (
          <select
            aria-label={words.meter}
            value={meter}
            onChange={(event) => setMeter(Number(event.target.value))}
          >
            {METERS.map(([r_ohm, label]) => (
              <option key={r_ohm} value={r_ohm}>
                {label}
              </option>
            ))}
          </select>
        )}
        {kind === "seen" && (
          <select
            aria-label={words.replaced}
            value={replacement}
            onChange={(event) => setReplacement(event.target.value)}
          >
            <option value="">{words.asFitted}</option>
            {shelf.data
              ?.filter((part) => part.category === "lamp" && part.kind !== "smart")
              .map((part) => (
                <option key={part.id} value={part.id}>
                  {words.replaced}: {part.maker} {part.name}
                </option>
              ))}
          </select>
        )}
        {!seenWords && (
          <>
            <input
              className="figure"
              aria-label={texts.survey.conductors.value}
              aria-invalid={isWrong || undefined}
              placeholder={words.hints[kind]}
              value={value}
              onChange={(event) => setValue(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && add()}
            />
            <button type="button" className="outlined" onClick={add}>
              {words.add}
            </button>
          </>
        )}
        {seenWords &&
          Object.entries(seenWords).map(([seen, label]) => (
            <button key={seen} type="button" className="outlined" onClick={() => addSeen(seen)}>
              {label}
            </button>
          ))}
      </div>
      {kind === "half_wave" && <p className="caution-line">{words.benchCaution}</p>}
      {isWrong && <p className="wrong">{texts.parts.notANumber}</p>}
      <ul className="trail">
        {readings.map((entry, index) => (
          <li key={index}>
            <span>
              {words.kinds[entry.kind]}: <b className="figure">{told(entry)}</b>
            </span>
            <button
              type="button"
              className="plain"
              onClick={() => setReadings(readings.filter((_, k) => k !== index))}
            >
              {words.remove}
            </button>
          </li>
        ))}
      </ul>
      {readings.length > 0 && (
        <button type="button" className="solid" disabled={isPending} onClick={() => onJudge(readings)}>
          {isPending ? words.computing : action}
        </button>
      )}
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      {children}
    </section>
  );
}
