/** Where places, terminals and cores lie in the drawing of a wire map. */
import type { WireMap } from "./queries";

const BOARD = 148;
const COLUMN = 192;
const GAP = 92;
const ROW = 34;
const HEAD = 40;
const SPACE = 22;
const CAP = "cap";

type Core = WireMap["drawing"]["cores"][number];

export interface SeatBox {
  id: string;
  column: number;
  x: number;
  y: number;
  width: number;
  name: string;
}

export interface CoreLine {
  id: string;
  path: string;
  x: number;
  y: number;
}

export interface Symbol {
  device: string;
  kind: string;
  x: number;
  from: number;
  to: number;
}

export interface Layout {
  width: number;
  height: number;
  places: { id: string; name: string; x: number; y: number; width: number; height: number }[];
  seats: SeatBox[];
  found: CoreLine[];
  wanted: CoreLine[];
  symbols: Symbol[];
}

/** Places in columns: the board, then what it feeds. Luminaires stand below each other. */
function columnsOf(map: WireMap): string[][] {
  const names = map.drawing.places.map((place) => place.id);
  const ceilings = names.filter((name) => name.startsWith("ceiling"));
  const boards = names.filter((name) => name === "board");
  const boxes = names.filter((name) => !ceilings.includes(name) && name !== "board");
  // The supply comes in where a live core arrives from the board.
  const atCeiling = map.drawing.cores.some(
    (core) =>
      core.ends.some((end) => end.place === "board" && end.after === "board:line") &&
      core.ends.some((end) => ceilings.includes(end.place)),
  );
  const columns = atCeiling
    ? [boards, ceilings, ...boxes.map((name) => [name])]
    : [boards, ...boxes.map((name) => [name]), ceilings];
  return columns.filter((column) => column.length > 0);
}

/** Only what the work touches is drawn: seats at which an end sits, found or wanted, or a device's terminals. */
export function layoutOf(map: WireMap): Layout {
  const { cores } = map.drawing;
  const used = new Set(cores.flatMap((core) => core.ends.flatMap((end) => [end.before, end.after])));
  for (const lead of map.drawing.leads) for (const seat of lead.seats) used.add(seat);
  const capped = new Set(
    cores.flatMap((core) =>
      core.ends.filter((end) => end.before === CAP || end.after === CAP).map((end) => end.place),
    ),
  );
  const places: Layout["places"] = [];
  const seats: SeatBox[] = [];
  const at = new Map<string, SeatBox>();
  let deepest = 0;
  let x = 8;
  columnsOf(map).forEach((column, k) => {
    const width = column[0] === "board" ? BOARD : COLUMN;
    let top = 2;
    for (const id of column) {
      const place = map.drawing.places.find((one) => one.id === id);
      if (place === undefined) continue;
      const rows = place.seats
        .filter((seat) => used.has(seat.id) || (seat.device !== null && !seat.id.startsWith("sw")))
        .map((seat) => ({ id: seat.id, name: seat.name }));
      if (capped.has(id)) rows.push({ id: CAP, name: "" });
      rows.forEach((row, n) => {
        const box = { ...row, column: k, x, y: top + HEAD + n * ROW, width };
        seats.push(box);
        at.set(`${id}/${row.id}`, box);
      });
      const height = HEAD + rows.length * ROW + 6;
      places.push({ id, name: place.name, x, y: top, width, height });
      top += height + SPACE;
    }
    deepest = Math.max(deepest, top - SPACE);
    x += width + GAP;
  });
  let under = 0;
  const line = (core: Core, which: "before" | "after", n: number): CoreLine | null => {
    const [one, other] = core.ends.map((end) => {
      const seat = end[which];
      return seat === null ? undefined : at.get(`${end.place}/${seat}`);
    });
    if (one === undefined || other === undefined) return null;
    const [left, right] = one.x <= other.x ? [one, other] : [other, one];
    const shift = ((n * 5) % 13) - 6;
    const y1 = left.y + ROW / 2 - 3 + shift;
    const y2 = right.y + ROW / 2 - 3 + shift;
    const x1 = left.x + left.width;
    if (left.column === right.column) {
      const bow = x1 + 24 + ((n * 9) % 36);
      return {
        id: core.id,
        path: `M${x1} ${y1} C${bow} ${y1} ${bow} ${y2} ${x1} ${y2}`,
        x: bow - 8,
        y: (y1 + y2) / 2,
      };
    }
    const x2 = right.x;
    if (right.column - left.column > 1) {
      // Past what lies between, below all of it.
      const y = deepest + 20 + under * 18;
      if (which === "after") under += 1;
      const path = `M${x1} ${y1} C${x1 + 50} ${y1} ${x1 + 30} ${y} ${x1 + 80} ${y} L${x2 - 80} ${y} C${x2 - 30} ${y} ${x2 - 50} ${y2} ${x2} ${y2}`;
      return { id: core.id, path, x: (x1 + x2) / 2, y };
    }
    const middle = (x1 + x2) / 2;
    const path = `M${x1} ${y1} C${middle} ${y1} ${middle} ${y2} ${x2} ${y2}`;
    // Names of cores side by side stand apart along their way.
    const along = 0.5 + ((n % 3) - 1) * 0.2;
    return {
      id: core.id,
      path,
      x: x1 + (x2 - x1) * along,
      y: y1 + (y2 - y1) * (3 * along ** 2 - 2 * along ** 3),
    };
  };
  const lines = (which: "before" | "after") =>
    cores.map((core, n) => line(core, which, n)).filter((one) => one !== null);
  const moved = new Set(
    cores.filter((core) => core.ends.some((end) => end.before !== end.after)).map((core) => core.id),
  );
  const wanted = lines("after");
  const found = lines("before").filter((one) => moved.has(one.id));
  const symbols = map.drawing.leads.flatMap((lead, n) => {
    const [one, other] = lead.seats.map((seat) => seats.find((box) => box.id === seat));
    if (one === undefined || other === undefined) return [];
    return [
      {
        device: lead.device,
        kind: lead.kind,
        x: one.x + one.width - 22 - (n % 2) * 26,
        from: one.y + ROW / 2 - 3,
        to: other.y + ROW / 2 - 3,
      },
    ];
  });
  return {
    width: x - GAP + 44,
    height: deepest + 8 + (under > 0 ? 20 + under * 18 : 0),
    places,
    seats,
    found,
    wanted,
    symbols,
  };
}
