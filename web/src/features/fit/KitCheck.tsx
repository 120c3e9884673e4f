/** What the control's box should hold: found or missing, before anybody drives. */
import { useState } from "react";
import type { Entry } from "../../device/entry";
import { say, texts } from "../../texts";
import { useWhen } from "../when";
import type { FitEntries, Fitting } from "./queries";

const words = texts.fit;

interface Props {
  kit: NonNullable<Fitting["kit"]>;
  entries: readonly Entry[];
  mayEdit: boolean;
  onSay: FitEntries["kit"];
}

export function KitCheck({ kit, entries, mayEdit, onSay }: Props) {
  const when = useWhen();
  const [changed, change] = useState<Record<string, boolean>>({});
  const isOnItsWay = entries.some((entry) => entry.path.endsWith("/kit/") && entry.state === "waiting");
  const answer = (name: string, found: boolean | null) => changed[name] ?? found;
  const isWhole = kit.items.every((item) => answer(item.kit, item.found) !== null);
  return (
    <details className="fit-kit">
      <summary>
        {say(words.kit, { part: kit.name })}
        {kit.at && ` ✓ ${kit.by}, ${when(kit.at)}`}
      </summary>
      <ul>
        {kit.items.map((item) => (
          <li key={item.kit}>
            <span>{item.text}</span>
            <span className="choice-row" role="group" aria-label={item.text}>
              {[true, false].map((isFound) => (
                <button
                  key={String(isFound)}
                  type="button"
                  className="outlined"
                  disabled={!mayEdit}
                  aria-pressed={answer(item.kit, item.found) === isFound}
                  onClick={() => change({ ...changed, [item.kit]: isFound })}
                >
                  {isFound ? words.found : words.missing}
                </button>
              ))}
            </span>
          </li>
        ))}
      </ul>
      {isOnItsWay && <p className="wrong">{texts.isolation.waiting}</p>}
      {mayEdit && (
        <button
          type="button"
          className="solid"
          disabled={!isWhole || isOnItsWay || Object.keys(changed).length === 0}
          onClick={() => {
            onSay(
              kit.part,
              Object.fromEntries(kit.items.map((item) => [item.kit, answer(item.kit, item.found) === true])),
            );
            change({});
          }}
        >
          {words.keepKit}
        </button>
      )}
    </details>
  );
}
