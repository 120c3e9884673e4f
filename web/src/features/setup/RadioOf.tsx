/** The radio of a site: hubs with their devices, a picture of rooms and links, channels, names. */
import { useState } from "react";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import { HouseForm } from "./HouseForm";
import { HousePicture } from "./HousePicture";
import type { House, HubFits, Reached } from "./queries";

const words = texts.setup;
const SIGNS = { sure: "●", likely: "◕", poor: "◔", no: "○", unknown: "?" } as const;

interface Props {
  house: House;
  loop: Loop;
  mayEdit: boolean;
}

export function RadioOf({ house, loop, mayEdit }: Props) {
  const [isEditing, edit] = useState(false);
  if (isEditing) return <HouseForm house={house} siteName={loop.site_name} onDone={() => edit(false)} />;
  const own = new Set(house.gangs.filter((gang) => gang.loop === loop.id).map((gang) => gang.id));
  if (house.hubs.length === 0) {
    return (
      <div className="empty">
        <p>{words.noHub}</p>
        {mayEdit && (
          <button type="button" className="solid" onClick={() => edit(true)}>
            {words.note}
          </button>
        )}
      </div>
    );
  }
  return (
    <>
      {house.hubs.map((hub) => (
        <HubPart key={hub.id} hub={hub} house={house} own={own} />
      ))}
      {house.names.length > 0 && (
        <section aria-label={words.names}>
          <h2>{words.names}</h2>
          <ul className="plain-list">
            {house.names.map((one) => (
              <li key={one.text} className="wrong">
                {one.text}
              </li>
            ))}
          </ul>
        </section>
      )}
      {mayEdit && (
        <p className="form-buttons">
          <button type="button" className="outlined" onClick={() => edit(true)}>
            {words.edit}
          </button>
        </p>
      )}
    </>
  );
}

function HubPart({ hub, house, own }: { hub: HubFits; house: House; own: ReadonlySet<string> }) {
  const rank = { no: 0, unknown: 1, poor: 2, likely: 3, sure: 4 } as const;
  const devices = hub.devices.toSorted((a, b) => rank[a.verdict] - rank[b.verdict]);
  return (
    <section className="hub" aria-label={hub.name}>
      <h2>{hub.name}</h2>
      <p role="status" className={hub.is_full ? "wrong" : ""}>
        {hub.text}
      </p>
      <HousePicture hub={hub} house={house} />
      <h3>{words.devices}</h3>
      <ul className="reached">
        {devices.map((device) => (
          <ReachedRow key={device.id} device={device} isOwn={device.gang !== null && own.has(device.gang)} />
        ))}
      </ul>
      {hub.cut_points.map((one) => (
        <p key={one.id} className="notice">
          {one.text}
        </p>
      ))}
      {[...hub.crowded, ...hub.full_points].map((text) => (
        <p key={text} className="notice">
          {text}
        </p>
      ))}
      {hub.channel && (
        <>
          <h3>{words.channels}</h3>
          <p>{hub.channel.text}</p>
          <ol className="channels" aria-label={words.channels}>
            {hub.channel.overlap_mhz.map((one) => {
              const said = say(words.channelBar, { channel: one.channel, mhz: one.mhz.toFixed(0) });
              return (
                <li key={one.channel} title={said} aria-label={said}>
                  <span aria-hidden style={{ height: `${Math.min(1, one.mhz / 4) * 2.5}rem` }} />
                  <b className={one.channel === hub.channel?.best ? "is-best" : ""}>{one.channel}</b>
                </li>
              );
            })}
          </ol>
        </>
      )}
    </section>
  );
}

function ReachedRow({ device, isOwn }: { device: Reached; isOwn: boolean }) {
  return (
    <li className={`is-${device.verdict}`}>
      <span className="reach-sign" aria-hidden>
        {SIGNS[device.verdict]}
      </span>
      <span>
        <b>{device.name}</b>
        {isOwn && <em> {words.here}</em>}
        {device.has_joined && <small className="inline"> · {words.joined}</small>}
        <small>{device.why}</small>
        {device.helps.length > 0 && <small>{say(words.helps, { what: device.helps.join("; ") })}</small>}
      </span>
      <span className="reach-word">
        {device.verdict_text}
        {device.margin_db !== null && (
          <small className="figure">{say(words.margin, { db: Math.round(device.margin_db) })}</small>
        )}
      </span>
    </li>
  );
}
