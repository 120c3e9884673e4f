/** One figure dragged over its range: how the judgement moves. */
import { useState } from "react";
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { asFigure, type Draft, type Figures, type Gang } from "../draft";
import { OldAnswer } from "../../OldAnswer";
import { ProgressLine } from "../../ProgressLine";
import { useKinds } from "../queries";
import { ShareBar } from "../spread/ShareBar";
import type { Spread } from "../spread/queries";
import { type Sweep, useSweep } from "./queries";

const words = texts.off;
const OUTCOMES = ["well", "marginal", "glow", "blink", "starved"] as const;

interface Choice {
  value: string;
  label: string;
}

/** Whether lamps feed the control; what feeds it from a neutral flows through no lamp. */
function isFedThroughLamps({ control }: Draft): boolean {
  return Boolean(control?.figures["standby"]) && control?.wired !== "straight";
}

/** Figures of the draft that have a range, by path. */
function ranged(draft: Draft): Record<string, string> {
  const found: Record<string, string> = {};
  const collect = (figures: Figures, path: string) => {
    for (const [name, entry] of Object.entries(figures)) {
      const figure = asFigure(entry);
      if (figure && figure.low < figure.high) found[`${path}.${name}`] = name;
      else if (name === "standby" && entry) collect(entry as Figures, `${path}.standby`);
    }
  };
  if (draft.control) {
    const { standby, ...own } = draft.control.figures;
    collect(standby && isFedThroughLamps(draft) ? { ...own, standby } : own, "control");
  }
  draft.lamps.forEach((fit, k) => collect(fit.figures, `lamps[${k}]`));
  draft.bypasses.forEach((fit, k) => collect(fit.figures, `bypass[${k}]`));
  return found;
}

interface Props {
  gang: Gang;
  draft: Draft;
  deciding: Spread["deciding"];
}

export function OneFigure({ gang, draft, deciding }: Props) {
  const kinds = useKinds();
  const paths = ranged(draft);
  const fields = new Map(
    (kinds.data ?? []).flatMap((kind) => kind.fields.filter((f) => !f.rating).map((f) => [f.name, f.label])),
  );
  const first = deciding.find((figure) => figure.path in paths)?.path ?? null;
  const [chosen, setChosen] = useState<string | null>(null);
  const path = chosen !== null && chosen in paths ? chosen : (first ?? Object.keys(paths)[0] ?? null);
  const sweep = useSweep(gang.id, draft, path);
  const choices: Choice[] = Object.entries(paths)
    .filter(([, name]) => fields.has(name))
    .map(([value, name]) => ({ value, label: `${fields.get(name)} – ${placeOf(value)}` }));
  if (path === null) return <p className="empty">{words.noRange}</p>;
  return (
    <section className="one-figure" aria-label={words.tabs.figure} aria-busy={sweep.isFetching}>
      <h2>{words.dragTitle}</h2>
      <label className="kind-choice">
        {words.dragWhich}
        <select value={path} onChange={(event) => setChosen(event.target.value)}>
          {choices.map((choice) => (
            <option key={choice.value} value={choice.value}>
              {choice.label}
            </option>
          ))}
        </select>
      </label>
      {sweep.isFetching && (
        <ProgressLine label={texts.spread.computing} progress={sweep.progress} onStop={sweep.stop} />
      )}
      {!sweep.isFetching && !sweep.data && !sweep.isError && (
        <button type="button" className="outlined" onClick={() => void sweep.refetch()}>
          {texts.spread.again}
        </button>
      )}
      {sweep.isError && (
        <p className="wrong" role="alert">
          {sweep.error.message}
        </p>
      )}
      {sweep.data && sweep.data.path === path && (
        <OldAnswer isOld={sweep.isOld || sweep.isError}>
          <Drag key={path} sweep={sweep.data} isFed={isFedThroughLamps(draft)} />
        </OldAnswer>
      )}
    </section>
  );
}

function Drag({ sweep, isFed }: { sweep: Sweep; isFed: boolean }) {
  const nearest = sweep.points.reduce(
    (best, point, k) =>
      Math.abs(point.value - sweep.typical) < Math.abs((sweep.points[best]?.value ?? 0) - sweep.typical)
        ? k
        : best,
    0,
  );
  const [at, setAt] = useState(nearest);
  const point = sweep.points[at];
  // Ended before its first value: the sentence says so.
  if (!point) return <p className="empty">{sweep.text}</p>;
  const inRange = point.value >= sweep.low * 0.999 && point.value <= sweep.high * 1.001;
  return (
    <>
      <div className="sweep-strip" role="img" aria-label={sweep.text}>
        {sweep.points.map((entry, k) => (
          <button
            key={k}
            type="button"
            tabIndex={-1}
            aria-hidden
            className={`sweep-column${k === at ? " is-at" : ""}`}
            onClick={() => setAt(k)}
          >
            {OUTCOMES.filter((name) => (entry.shares[name] ?? 0) > 0).map((name) => (
              <span
                key={name}
                className={`share share-${name === "well" ? "dark" : name}`}
                style={{ flexGrow: entry.shares[name] ?? 0 }}
              />
            ))}
          </button>
        ))}
      </div>
      <input
        type="range"
        aria-label={sweep.label}
        aria-valuetext={engineering(point.value, sweep.unit)}
        min={0}
        max={sweep.points.length - 1}
        value={at}
        onChange={(event) => setAt(Number(event.target.value))}
      />
      <p className="sweep-ends figure">
        <span>{engineering(sweep.points[0]?.value ?? 0, sweep.unit)}</span>
        <span>
          {say(words.rangeOf, {
            low: engineering(sweep.low, sweep.unit),
            high: engineering(sweep.high, sweep.unit),
          })}
        </span>
        <span>{engineering(sweep.points.at(-1)?.value ?? 0, sweep.unit)}</span>
      </p>
      <p className="sure-lead">
        <b className="figure">{engineering(point.value, sweep.unit)}</b>{" "}
        {!inRange && <span className="quiet">{words.beyond}</span>}
      </p>
      <ShareBar
        name={words.outcome}
        shares={Object.fromEntries(
          OUTCOMES.map((name) => [name === "well" && !isFed ? "dark" : name, point.shares[name] ?? 0]),
        )}
      />
      <p>{sweep.text}</p>
    </>
  );
}

/** "lamp group 2" for `lamps[1].p_w`. */
function placeOf(path: string): string {
  const [, part, index] = /^(lamps|bypass)\[(\d+)\]/.exec(path) ?? [];
  if (part === "lamps") return say(words.placeLamps, { group: Number(index) + 1 });
  if (part === "bypass") return say(words.placeBypass, { number: Number(index) + 1 });
  return path.startsWith("control.") ? words.placeControl : path.replace(/\.[a-z_0-9]+$/, "");
}
