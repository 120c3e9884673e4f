/** The document of a house as rows of text, and back: what is typed is sent as it is read, and the server says the rest. */
import type { House } from "./queries";
import type { Row } from "./Rows";

export const WALLS = ["plasterboard", "brick", "stone", "concrete", "foil"] as const;

export interface Draft {
  lat: string;
  lon: string;
  rooms: Row[];
  between: Row[];
  hubs: Row[];
  access_points: Row[];
  neighbours: string;
  devices: Row[];
}

type Json = Record<string, unknown>;

const text = (value: unknown): string =>
  typeof value === "string" || typeof value === "number" ? String(value) : "";
const asked = (value: unknown): string => (value === true ? "yes" : value === false ? "no" : "");

export function draftOf(house: House): Draft {
  const document = house.document as Json;
  const list = (key: string) => (document[key] ?? []) as Json[];
  return {
    lat: text(document["lat"]),
    lon: text(document["lon"]),
    rooms: list("rooms").map((one) => ({
      id: text(one["id"]),
      name: text(one["name"]),
      floor: text(one["floor"]),
    })),
    between: list("between").map((one) => ({
      a: text(one["a"]),
      b: text(one["b"]),
      d_m: text(one["d_m"]),
      floors: text(one["floors"] ?? 0),
      ...Object.fromEntries(
        WALLS.map((wall) => [`walls.${wall}`, text(((one["walls"] ?? {}) as Json)[wall])]),
      ),
    })),
    hubs: list("hubs").map((one) => ({
      id: text(one["id"]),
      name: text(one["name"]),
      room: text(one["room"]),
      band: text((one["bands"] as string[] | undefined)?.[0]),
      takes: text(one["takes"]),
      has: text(one["has"]),
      window_s: text(one["window_s"]),
      needs_internet: asked(one["needs_internet"] ?? false),
      left_over: ((one["left_over"] ?? []) as string[]).join(", "),
      listed: ((one["listed"] ?? []) as string[]).join(","),
      bands: JSON.stringify(one["bands"] ?? []),
    })),
    access_points: list("access_points").map((one) => ({
      id: text(one["id"]),
      name: text(one["name"]),
      room: text(one["room"]),
      channel: text(one["channel"]),
      takes: text(one["takes"]),
      has: text(one["has"]),
    })),
    neighbours: ((document["neighbours"] ?? []) as number[]).join(", "),
    devices: list("devices").map((one) => ({
      id: text(one["id"]),
      name: text(one["name"]),
      room: text(one["room"]),
      card: text(one["card"]),
      hub: text(one["hub"]),
      gang: text(one["gang"]),
      dimmer: text(one["dimmer"]),
      metal_box: asked(one["metal_box"]),
      metal_plate: asked(one["metal_plate"]),
      behind_switch: asked(one["behind_switch"] ?? false),
      keeps: text(one["keeps"] ?? "nowhere"),
      window_s: text(one["window_s"]),
      join_s: text(one["join_s"]),
    })),
  };
}

/** A number where one was typed; what is none goes as it is, and the server says so. */
function number(value: string | undefined): number | string | null {
  const typed = (value ?? "").trim();
  if (typed === "") return null;
  const read = Number(typed.replace(",", "."));
  return Number.isFinite(read) ? read : typed;
}

const flag = (value: string | undefined): boolean | null =>
  value === "yes" ? true : value === "no" ? false : null;
const names = (value: string | undefined): string[] =>
  (value ?? "")
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

export function documentOf(draft: Draft): Json {
  return {
    lat: number(draft.lat),
    lon: number(draft.lon),
    rooms: draft.rooms.map((row) => ({
      id: row["id"],
      name: row["name"]?.trim(),
      floor: number(row["floor"]),
    })),
    between: draft.between.map((row) => ({
      a: row["a"],
      b: row["b"],
      d_m: number(row["d_m"]),
      floors: number(row["floors"]) ?? 0,
      walls: Object.fromEntries(
        WALLS.flatMap((wall) => {
          const count = number(row[`walls.${wall}`]);
          return count === null ? [] : [[wall, count]];
        }),
      ),
    })),
    hubs: draft.hubs.map((row) => {
      const before = JSON.parse(row["bands"] ?? "[]") as string[];
      return {
        id: row["id"],
        name: row["name"]?.trim(),
        room: row["room"],
        bands: before[0] === row["band"] ? before : [row["band"]],
        takes: number(row["takes"]),
        has: number(row["has"]),
        window_s: number(row["window_s"]),
        needs_internet: flag(row["needs_internet"]) ?? false,
        left_over: names(row["left_over"]),
        listed: row["listed"] ? names(row["listed"]) : null,
      };
    }),
    access_points: draft.access_points.map((row) => ({
      id: row["id"],
      name: row["name"]?.trim(),
      room: row["room"],
      channel: number(row["channel"]),
      takes: number(row["takes"]),
      has: number(row["has"]),
    })),
    neighbours: names(draft.neighbours).map(number),
    devices: draft.devices.map((row) => ({
      id: row["id"],
      name: row["name"]?.trim(),
      room: row["room"],
      card: row["card"],
      hub: row["hub"],
      gang: row["gang"] ?? "",
      dimmer: row["dimmer"] ?? "",
      metal_box: flag(row["metal_box"]),
      metal_plate: flag(row["metal_plate"]),
      behind_switch: flag(row["behind_switch"]) ?? false,
      keeps: row["keeps"],
      window_s: number(row["window_s"]),
      join_s: number(row["join_s"]),
    })),
  };
}
