/** Beside the fit step: what keeps the power off each place, and the wire map with the core that is in hand. */
import { useState } from "react";
import { texts, wordOf } from "../../texts";
import { Cautions } from "../Cautions";
import { useConfirmed } from "../survey/useConfirmed";
import { MapDrawing } from "../ways/MapDrawing";
import { stateAt } from "../ways/StatePick";
import { nextOf, shownSteps } from "./overlay";
import { useFitEntries, useFitting } from "./queries";
import "../ways/ways.css";
import "./fit.css";

const words = texts.fit;

export function FitPanel({ loop }: { loop: string }) {
  const query = useFitting(loop);
  // Dead is shown only while the server says so, now, of exactly this.
  const isConfirmed = useConfirmed(query, loop) === "confirmed";
  const fitting = query.data;
  const entries = useFitEntries(loop);
  const [pressed, press] = useState<string | null>(null);
  if (fitting === undefined || fitting.map === null)
    return <aside className="why" aria-label={words.beside} />;
  const next = nextOf(shownSteps(fitting, entries));
  const inHand = pressed ?? next?.points[0]?.split("@")[0] ?? null;
  return (
    <aside className="why is-fit" tabIndex={0} aria-label={words.beside}>
      <h2>{words.places}</h2>
      <ul className="fit-places">
        {fitting.places.map((place) => (
          <li key={place.place}>
            <span>{place.text}</span>{" "}
            <b className={`fit-proof is-${isConfirmed && place.is_off ? place.proof : "live"}`}>
              {!isConfirmed
                ? words.unconfirmed
                : place.is_off
                  ? (wordOf(words.proofs, place.proof) ?? place.proof)
                  : words.live}
            </b>
          </li>
        ))}
      </ul>
      <h2>{words.map}</h2>
      <MapDrawing
        map={fitting.map}
        state={stateAt(fitting.map.states, fitting.map.states[0]?.positions ?? {})}
        pressed={inHand}
        onPress={press}
      />
      <ol className="map-lines">
        {fitting.map.lines.map((line) => (
          <li
            key={line.key}
            className={`is-${line.kind}`}
            aria-current={line.key === next?.key || next?.key.startsWith(`${line.key}@`) ? "step" : undefined}
          >
            {line.text} {line.note && <small>{line.note}</small>}
          </li>
        ))}
      </ol>
      <Cautions cautions={fitting.cautions} />
    </aside>
  );
}
