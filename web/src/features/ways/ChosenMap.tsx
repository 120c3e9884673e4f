/** The wire map of the way that was chosen. */
import { say, texts } from "../../texts";
import { useWhen } from "../when";
import { changedSince } from "./changedSince";
import type { Work } from "./queries";
import { WireMapView } from "./WireMapView";

const words = texts.ways;

export function ChosenMap({ work, onTry }: { work: Work; onTry: () => void }) {
  const when = useWhen();
  const newest = work.choices[0];
  if (newest === undefined || work.chosen_map === null) return <p className="empty">{words.noMapYet}</p>;
  return (
    <>
      <header className="map-head">
        <h2>{newest.title}</h2>
        <p className="quiet">
          {newest.label && `${newest.label} · `}
          {say(words.chosenBy, { who: newest.by, when: when(newest.at) })}
          {newest.why && ` · ${newest.why}`}
        </p>
        <button type="button" className="outlined" onClick={() => window.print()}>
          {words.print}
        </button>
      </header>
      {!newest.is_current && (
        <p className="notice" role="alert">
          {changedSince(newest)}
        </p>
      )}
      {work.open_roles.length > 0 && (
        <p className="notice">{say(words.openRoles, { names: work.open_roles.join(", ") })}</p>
      )}
      <WireMapView map={work.chosen_map} onTry={onTry} />
    </>
  );
}
