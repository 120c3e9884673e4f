/** A drawing as it is entered: devices, cores, what touches, what is capped. */

export interface DrawnDevice {
  id: string;
  kind: string;
  [key: string]: unknown;
}

export interface DrawnCore {
  id: string;
  ends: string[];
  colour?: string;
  [key: string]: unknown;
}

export interface Drawn {
  name: string;
  circuits: string[];
  devices: DrawnDevice[];
  cores: DrawnCore[];
  joints: string[][];
  capped: string[];
  intended?: Record<string, string[]>;
}

export const EMPTY: Drawn = { name: "", circuits: ["1"], devices: [], cores: [], joints: [], capped: [] };

const TERMINALS: Record<string, string[]> = {
  one_way: ["COM", "L1"],
  push: ["COM", "L1"],
  two_way: ["COM", "L1", "L2"],
  timer: ["COM", "L1", "L2"],
  intermediate: ["IN1", "IN2", "OUT1", "OUT2"],
  lamp: ["1", "2"],
  bypass: ["1", "2"],
  diode: ["1", "2"],
};

/** What a new device of a kind begins with. */
export function newDevice(kind: string, known: DrawnDevice[]): DrawnDevice {
  const stem = { control: "ctl", one_way: "sw", two_way: "sw", intermediate: "sw", push: "sw" }[kind] ?? kind;
  let number = 1;
  while (known.some((device) => device.id === `${stem}${number}`)) number += 1;
  const id = `${stem}${number}`;
  return kind === "control"
    ? { id, kind, line: "L", loads: ["L1"], neutral: null, neutral_use: "none" }
    : { id, kind };
}

function listed(value: unknown): string[] {
  return Array.isArray(value) ? value.map(String) : typeof value === "string" ? [value] : [];
}

export function terminalsOf(device: DrawnDevice): string[] {
  if (device.kind !== "control") return TERMINALS[device.kind] ?? [];
  const named = ["line", "loads", "neutral", "earth", "link", "inputs"].flatMap((key) => listed(device[key]));
  return [...new Set(named)];
}

/** Every point there is: the board, terminals, ends of cores. */
export function pointsOf(drawn: Drawn): string[] {
  return [
    ...drawn.circuits.flatMap((circuit) => [`${circuit}.L`, `${circuit}.N`]),
    "E",
    ...drawn.devices.flatMap((device) => terminalsOf(device).map((terminal) => `${device.id}.${terminal}`)),
    ...drawn.cores.flatMap((core) => core.ends.map((end) => `${core.id}@${end}`)),
  ];
}

/** Without a device or a core, nothing of it is left in a joint. */
export function without(drawn: Drawn, isGone: (point: string) => boolean): Drawn {
  return {
    ...drawn,
    joints: drawn.joints
      .map((joint) => joint.filter((point) => !isGone(point)))
      .filter((joint) => joint.length > 0),
    capped: drawn.capped.filter((point) => !isGone(point)),
    intended: {},
  };
}
