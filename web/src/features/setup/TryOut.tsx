/** Levels and power cuts on the stand-in, as if everything had joined. */
import { useState } from "react";
import { say, texts } from "../../texts";
import { type TryAct, useTryOut } from "./queries";

const words = texts.setup.tryOut;

interface Props {
  site: string;
  hub: string;
  without: readonly string[];
}

export function TryOut({ site, hub, without }: Props) {
  const trying = useTryOut(site, hub, without);
  const [acts, setActs] = useState<TryAct[]>([]);
  const [chosen, choose] = useState("");
  const [level, setLevel] = useState("100");
  const found = trying.data;
  const percent = Number(level.replace(",", "."));
  const isLevel = level.trim() !== "" && percent >= 0 && percent <= 100;
  const device = found?.devices.find((one) => one.id === chosen) ?? found?.devices[0];
  const run = (next: TryAct[]) => {
    setActs(next);
    trying.mutate(next);
  };
  const act = (what: TryAct["act"], name: string, to = 0) => run([...acts, { act: what, name, level: to }]);
  return (
    <details
      className="try-out"
      onToggle={(event) => {
        if (event.currentTarget.open && found === undefined && !trying.isPending) run([]);
      }}
    >
      <summary>{words.title}</summary>
      <p className="quiet">{words.lead}</p>
      {trying.isError && (
        <p className="wrong" role="alert">
          {trying.error.message}
        </p>
      )}
      {found && device && (
        <>
          <div className="row-set">
            <label className="field is-wide">
              {words.device}
              <select value={device.id} onChange={(event) => choose(event.target.value)}>
                {found.devices.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </select>
            </label>
            <label className="field">
              {words.level}
              <input
                value={level}
                maxLength={5}
                inputMode="decimal"
                aria-invalid={!isLevel}
                onChange={(event) => setLevel(event.target.value)}
              />
            </label>
            <button
              type="button"
              className="solid"
              disabled={!isLevel || trying.isPending}
              onClick={() => act("level", device.id, percent / 100)}
            >
              {words.set}
            </button>
            {device.breaker !== "" && !device.breaker.startsWith("~") && (
              <>
                <button type="button" className="outlined" onClick={() => act("cut", device.breaker)}>
                  {say(words.cut, { breaker: device.breaker })}
                </button>
                <button type="button" className="outlined" onClick={() => act("back", device.breaker)}>
                  {say(words.back, { breaker: device.breaker })}
                </button>
              </>
            )}
            <button type="button" className="outlined" onClick={() => act("starve", device.id)}>
              {words.starve}
            </button>
            <button type="button" className="outlined" onClick={() => act("feed", device.id)}>
              {words.feed}
            </button>
            <button type="button" className="plain" onClick={() => run([])}>
              {words.again}
            </button>
          </div>
          <ol className="plain-list" aria-label={words.title}>
            {found.told.map((one, k) => (
              <li key={k} className={one.is_refusal ? "wrong" : ""}>
                {one.is_refusal ? "! " : ""}
                {one.text}
              </li>
            ))}
          </ol>
          <p role="status" aria-label={words.states}>
            {found.devices
              .map((one) => say(words.at, { name: one.name, percent: Math.round(one.level * 100) }))
              .join(" · ")}
          </p>
        </>
      )}
    </details>
  );
}
