/** A wire map: the drawing with its states, what hands do in order, the way back, and what its proof says. */
import { useState } from "react";
import { say, texts } from "../../texts";
import { Tabs } from "../Tabs";
import { MapDrawing } from "./MapDrawing";
import { ProofFindings } from "./ProofFindings";
import type { WireMap } from "./queries";
import { StatePick, stateAt } from "./StatePick";

const words = texts.ways;
const LOOKS = ["there", "back"] as const;

interface Props {
  map: WireMap;
  /** To where it can be connected otherwise and tried; not given while it is only looked at. */
  onTry?: () => void;
}

export function WireMapView({ map, onTry }: Props) {
  const [positions, setPositions] = useState<Record<string, string>>(map.states[0]?.positions ?? {});
  const [core, setCore] = useState<string | null>(null);
  const [look, setLook] = useState<(typeof LOOKS)[number]>("there");
  const state = stateAt(map.states, positions);
  const pressed = map.drawing.cores.find((one) => one.id === core);
  const names = Object.fromEntries(map.drawing.places.map((place) => [place.id, place.name]));
  const lines = look === "there" ? map.lines : map.back;
  return (
    <section className="wire-map" aria-label={words.mapOf}>
      <StatePick map={map} positions={positions} onPick={setPositions} />
      {state && (
        <p role="status" className="map-state">
          <b>{state.lamp_text}</b>
          {state.supply_text && `; ${state.supply_text}`}
        </p>
      )}
      <MapDrawing map={map} state={state} pressed={core} onPress={setCore} />
      {pressed ? (
        <div className="map-core" role="status">
          <b>{pressed.name}</b>
          {state && <span> {state.live.includes(pressed.id) ? words.live : words.notLive}</span>}
          {pressed.marked && (
            <span>
              {" "}
              {say(words.marked, { mark: words.marks[pressed.marked as keyof typeof words.marks] })}
            </span>
          )}
          <ul>
            {pressed.ends.map((end) => (
              <li key={end.point}>
                {say(end.before === end.after ? words.coreStays : words.coreFrom, {
                  place: names[end.place] ?? end.place,
                  before: end.before_text,
                  after: end.after_text,
                })}
              </li>
            ))}
          </ul>
          {onTry && (
            <button type="button" className="outlined" onClick={onTry}>
              {words.tryOtherwise}
            </button>
          )}
        </div>
      ) : (
        <p className="quiet">{words.pressHint}</p>
      )}
      <Tabs
        id="map-look"
        label={words.lines}
        names={LOOKS}
        words={{ there: words.there, back: words.backTab }}
        chosen={look}
        onChoose={setLook}
      >
        <h3>{look === "there" ? words.lines : words.backLines}</h3>
        <ol className="map-lines">
          {lines.map((line) => (
            <li key={line.key} className={`is-${line.kind}`}>
              {line.text} {line.note && <small>{line.note}</small>}
            </li>
          ))}
        </ol>
      </Tabs>
      <ProofFindings findings={map.findings} count={map.states.length} />
    </section>
  );
}
