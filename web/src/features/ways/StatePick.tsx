/** The positions of everything that can be switched: one state of all. */
import { texts, wordOf } from "../../texts";
import type { WireMap, WiringState } from "./queries";

const words = texts.ways;

export function stateAt(states: WiringState[], positions: Record<string, string>): WiringState | undefined {
  return states.find((state) =>
    Object.entries(state.positions).every(([device, at]) => positions[device] === at),
  );
}

interface Props {
  map: WireMap;
  positions: Record<string, string>;
  onPick: (positions: Record<string, string>) => void;
}

export function StatePick({ map, positions, onPick }: Props) {
  const devices = Object.keys(map.states[0]?.positions ?? {});
  const nameOf = (id: string) => map.drawing.devices.find((device) => device.id === id)?.name ?? id;
  return (
    <div className="state-pick">
      {devices.map((device) => {
        const known = [...new Set(map.states.map((state) => state.positions[device] ?? ""))];
        return (
          <fieldset key={device} className="plain-set">
            <legend>{nameOf(device)}</legend>
            <div className="choice-row">
              {known.map((position) => (
                <button
                  key={position}
                  type="button"
                  className="outlined"
                  aria-pressed={positions[device] === position}
                  onClick={() => onPick({ ...positions, [device]: position })}
                >
                  {position
                    .split("+")
                    .map((one) => wordOf(words.positions, one) ?? one)
                    .join(" + ")}
                </button>
              ))}
            </div>
          </fieldset>
        );
      })}
    </div>
  );
}
