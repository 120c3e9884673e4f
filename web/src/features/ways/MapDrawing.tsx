/** The drawing of a wire map: places, terminals, cores; found faint, wanted strong, what is live in a state told. */
import { texts } from "../../texts";
import { toneOf } from "../survey/tones";
import type { WireMap, WiringState } from "./queries";

const words = texts.ways;
interface Props {
  map: WireMap;
  state: WiringState | undefined;
  pressed: string | null;
  onPress: (core: string | null) => void;
}

export function MapDrawing({ map, state, pressed, onPress }: Props) {
  const { layout } = map;
  const coreOf = (id: string) => map.drawing.cores.find((core) => core.id === id);
  return (
    <div className="map-drawing">
      <svg
        viewBox={`0 0 ${layout.width} ${layout.height}`}
        role="group"
        aria-label={words.drawingName}
        style={{ minWidth: `${Math.round(layout.width * 0.85)}px` }}
      >
        {layout.places.map((place) => (
          <g key={place.id}>
            <rect
              className="map-place"
              x={place.x}
              y={place.y}
              width={place.width}
              height={place.height}
              rx={6}
            />
            <text className="map-title" x={place.x + 12} y={place.y + 24}>
              {place.name}
            </text>
          </g>
        ))}
        {layout.seats.map((seat) => (
          <g key={`${seat.x} ${seat.y}`}>
            <line className="map-row" x1={seat.x} x2={seat.x + seat.width} y1={seat.y - 2} y2={seat.y - 2} />
            <text className="map-seat" x={seat.x + 12} y={seat.y + 15}>
              {seat.name === "" ? words.capped : seat.name}
            </text>
            <text className="map-name" x={seat.x + 12} y={seat.y + 31}>
              {seat.cores.map((core) => core.name).join("  ")}
            </text>
          </g>
        ))}
        {layout.symbols.map((symbol) => (
          <LeadSymbol key={symbol.device} symbol={symbol} isLit={state?.lamps[symbol.device] === "on"} />
        ))}
        {layout.found.map((line) => (
          <path key={`f ${line.id}`} className="map-found" d={line.path} />
        ))}
        {layout.wanted.map((line) => {
          const core = coreOf(line.id);
          const isLive = state?.live.includes(line.id) ?? false;
          return (
            <g
              key={line.id}
              className={`map-wanted${isLive ? " is-live" : ""}${pressed === line.id ? " is-pressed" : ""}`}
              role="button"
              tabIndex={0}
              aria-label={`${core?.name ?? line.id}${isLive ? `, ${words.live}` : ""}`}
              aria-pressed={pressed === line.id}
              onClick={() => onPress(pressed === line.id ? null : line.id)}
              onKeyDown={(event) => {
                if (event.key !== "Enter" && event.key !== " ") return;
                event.preventDefault();
                onPress(pressed === line.id ? null : line.id);
              }}
            >
              <path className="map-touch" d={line.path} />
              <path className="map-halo" d={line.path} />
              <path className="map-core-edge" d={line.path} />
              <path
                className="map-core-line"
                d={line.path}
                stroke={toneOf(core?.colour ?? "") ?? "#6b5f53"}
              />
              {isLive && (
                <text x={line.x} y={line.y - 5} textAnchor="middle" className="map-live">
                  ⚡
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** A lamp between its two seats, filled while it is lit; a bypass as a box. */
function LeadSymbol({ symbol, isLit }: { symbol: WireMap["layout"]["symbols"][number]; isLit: boolean }) {
  const { x, y1, y2 } = symbol;
  const middle = (y1 + y2) / 2;
  return (
    <g className={`map-symbol${isLit ? " is-lit" : ""}`}>
      <path d={`M${x} ${y1} V${y2}`} />
      {symbol.kind === "lamp" ? (
        <>
          <circle cx={x} cy={middle} r={10} />
          <path d={`M${x - 7} ${middle - 7} l14 14 M${x + 7} ${middle - 7} l-14 14`} />
        </>
      ) : (
        <rect x={x - 6} y={middle - 10} width={12} height={20} />
      )}
    </g>
  );
}
