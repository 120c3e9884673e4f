/** Where the thread runs, for a given width. Pure geometry. */

export interface Branch {
  kind: "bypass" | "lamps";
  index: number;
  x: number;
}

export interface Layout {
  width: number;
  height: number;
  lineY: number;
  neutralY: number;
  breakerX: number;
  boxLeft: number;
  boxRight: number;
  ceilingX: number;
  endX: number;
  branches: Branch[];
}

const HEIGHT = 212;
const LINE_Y = 78;
const NEUTRAL_Y = 178;
const MARGIN = 22;
const READING_WIDTH = 96;

export function layoutFor(width: number, bypasses: number, groups: number): Layout {
  const isNarrow = width < 900;
  const boxLeft = MARGIN + (isNarrow ? 130 : 0.135 * width);
  const boxRight = boxLeft + (isNarrow ? 128 : 176);
  const ceilingX = boxRight + (isNarrow ? 104 : 0.13 * width);
  const endX = width - READING_WIDTH - 8;
  // Empty places are shown too: where a bypass or lamps would go.
  const slots = Math.max(1, bypasses) + Math.max(1, groups);
  const step = (endX - ceilingX) / slots;
  const branches: Branch[] = [];
  for (let k = 0; k < Math.max(1, bypasses); k += 1) {
    branches.push({ kind: "bypass", index: k, x: ceilingX + step * (k + 0.6) });
  }
  for (let k = 0; k < Math.max(1, groups); k += 1) {
    branches.push({ kind: "lamps", index: k, x: ceilingX + step * (Math.max(1, bypasses) + k + 0.6) });
  }
  return {
    width,
    height: HEIGHT,
    lineY: LINE_Y,
    neutralY: NEUTRAL_Y,
    breakerX: MARGIN + 34,
    boxLeft,
    boxRight,
    ceilingX,
    endX,
    branches,
  };
}

// 1 to 8 px over 10 µA to 30 mA, by the logarithm: what flows shows, and little still shows.
const THIN = { i_a: 1e-5, px: 1.2 };
const THICK = { i_a: 3e-2, px: 8 };

export function thickness(i_a: number): number {
  const share = Math.log(Math.max(i_a, THIN.i_a) / THIN.i_a) / Math.log(THICK.i_a / THIN.i_a);
  return THIN.px + Math.min(1, share) * (THICK.px - THIN.px);
}

/** A thread that hangs a little between two points. */
export function hanging(x1: number, x2: number, y: number, sag: number): string {
  const third = (x2 - x1) / 3;
  return `M${x1} ${y}C${x1 + third} ${y + sag} ${x2 - third} ${y + sag} ${x2} ${y}`;
}
