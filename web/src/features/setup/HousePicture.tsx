/** Rooms by floor with the devices in them, and the links between rooms: a drawing of what was noted, not to scale. */
import { say, texts } from "../../texts";
import type { House, HubFits } from "./queries";

const words = texts.setup;
const WIDTH = 760;
const ROW = 104;
const BOX = { w: 164, h: 56 };

interface Room {
  id: string;
  name: string;
  floor?: number | null;
}

interface Spot {
  x: number;
  y: number;
  column: number;
}

interface Line {
  a: string;
  b: string;
  verdict: "sure" | "likely" | "poor" | "no";
}

/** A link within one row goes round the rooms that stand between. */
function sag(a: Spot, b: Spot): number {
  return a.y === b.y && Math.abs(a.column - b.column) > 1 ? ROW * 0.9 : 0;
}

/** The best link between each two rooms. */
function linesOf(hub: HubFits, roomOf: ReadonlyMap<string, string>): Line[] {
  const rank = { no: 0, poor: 1, likely: 2, sure: 3 } as const;
  const best = new Map<string, Line>();
  for (const link of hub.links) {
    const [a, b] = [roomOf.get(link.a), roomOf.get(link.b)].toSorted();
    if (a === undefined || b === undefined || a === b) continue;
    const before = best.get(`${a}|${b}`);
    if (before === undefined || rank[link.verdict] > rank[before.verdict])
      best.set(`${a}|${b}`, { a, b, verdict: link.verdict });
  }
  return [...best.values()];
}

export function HousePicture({ hub, house }: { hub: HubFits; house: House }) {
  const rooms = (house.document["rooms"] ?? []) as Room[];
  const roomOf = new Map([[hub.id, hub.room], ...hub.devices.map((one) => [one.id, one.room] as const)]);
  const floors = [...new Set(rooms.map((room) => room.floor ?? 0))].toSorted((a, b) => b - a);
  const rows = floors.flatMap((floor) => {
    const here = rooms.filter((room) => (room.floor ?? 0) === floor);
    // No more boxes beside each other than there is room for.
    return Array.from({ length: Math.ceil(here.length / 4) }, (_, k) => here.slice(4 * k, 4 * k + 4));
  });
  const at = new Map<string, Spot>();
  rows.forEach((row, y) =>
    row.forEach((room, x) =>
      at.set(room.id, {
        // Every other row stands a little aside, so that lines do not run through boxes.
        x: (WIDTH * (x + 0.5 + (y % 2 ? 0.14 : -0.06))) / Math.max(row.length, 2.6),
        y: ROW * (y + 0.5),
        column: x,
      }),
    ),
  );
  const lines = linesOf(hub, roomOf);
  const named = (id: string) => rooms.find((room) => room.id === id)?.name ?? id;
  const said = lines
    .filter((line) => line.verdict !== "no")
    .map((line) => `${named(line.a)} – ${named(line.b)}: ${words.links[line.verdict]}`)
    .join("; ");
  return (
    <figure className="house-picture">
      <svg
        viewBox={`0 0 ${WIDTH} ${Math.max(1, rows.length) * ROW}`}
        role="img"
        aria-label={`${words.picture}: ${said}`}
      >
        {lines.map((line) => {
          const [a, b] = [at.get(line.a), at.get(line.b)];
          if (a === undefined || b === undefined) return null;
          return (
            <path
              key={`${line.a}|${line.b}`}
              className={`radio-link is-${line.verdict}`}
              d={`M${a.x} ${a.y} Q${(a.x + b.x) / 2} ${(a.y + b.y) / 2 + sag(a, b)} ${b.x} ${b.y}`}
            />
          );
        })}
        {rooms.map((room) => {
          const place = at.get(room.id);
          if (place === undefined) return null;
          const inside = hub.devices.filter((one) => one.room === room.id);
          const worst = inside.some((one) => one.verdict === "no")
            ? "no"
            : inside.some((one) => one.verdict === "unknown")
              ? "unknown"
              : "fine";
          return (
            <g key={room.id} className={`room is-${worst}`} transform={`translate(${place.x} ${place.y})`}>
              <rect x={-BOX.w / 2} y={-BOX.h / 2} width={BOX.w} height={BOX.h} rx={4} />
              <text y={-6}>{room.name}</text>
              <text y={16} className="room-inside">
                {[
                  ...(hub.room === room.id ? [words.hub] : []),
                  ...(inside.length > 0 ? [say(words.inRoom, { count: inside.length })] : []),
                  ...(worst === "no" ? [words.outOfRange] : worst === "unknown" ? ["?"] : []),
                ].join(" · ")}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption>
        {words.pictureLead}{" "}
        {(["sure", "likely", "poor", "no"] as const).map((verdict) => (
          <span key={verdict} className="link-key">
            <svg viewBox="0 0 36 8" aria-hidden>
              <line className={`radio-link is-${verdict}`} x1={0} y1={4} x2={36} y2={4} />
            </svg>
            {words.links[verdict]}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
