/** A time as people here read it, in the time of the site that it is about: as its papers have it. */
import { createContext, type ReactNode, useCallback, useContext } from "react";
import { language } from "../texts";
import { NO_ZONE, OWN_ZONE } from "./zones";

const Zone = createContext(OWN_ZONE);

/** Whatever is told in here is told in the time of this zone; where none is on record, in UTC, as on paper. */
export function InZone({ zone, children }: { zone: string; children: ReactNode }) {
  return <Zone.Provider value={zone || NO_ZONE}>{children}</Zone.Provider>;
}

export function useZone(): string {
  return useContext(Zone);
}

/** A moment in the time of the site that the page is about. */
export function useWhen(): (at: string) => string {
  const zone = useZone();
  return useCallback((at: string) => when(at, zone), [zone]);
}

// Days and hours as papers and the server's sentences have them, in every language: Sweden writes 2026-12-01 09:12.
const AS_ON_PAPER = "sv-SE";
const DAY: Intl.DateTimeFormatOptions = { dateStyle: "short" };
const HOUR: Intl.DateTimeFormatOptions = { timeStyle: "short", hourCycle: "h23" };

/** A moment in the time of a zone; its city is named where the clock of this device shows another time. */
export function when(at: string, zone = OWN_ZONE): string {
  return inZone(new Date(at), zone, { ...DAY, ...HOUR });
}

/** The hour alone of a moment of today there, and with its day of any other. */
export function hourOf(at: string, zone: string): string {
  const date = new Date(at);
  const isToday = told(date, zone, DAY) === told(new Date(), zone, DAY);
  return inZone(date, zone, isToday ? HOUR : { ...DAY, ...HOUR });
}

function inZone(date: Date, zone: string, format: Intl.DateTimeFormatOptions): string {
  const there = told(date, zone, format);
  return there === told(date, OWN_ZONE, format) ? there : `${there} (${cityOf(zone)})`;
}

function told(date: Date, zone: string, format: Intl.DateTimeFormatOptions): string {
  return date.toLocaleString(AS_ON_PAPER, { ...format, timeZone: zone });
}

function cityOf(zone: string): string {
  return (zone.split("/").pop() ?? zone).replaceAll("_", " ");
}

/** A date as it is kept, after its day of the week. */
export function dayOfWeek(date: string): string {
  const day = new Date(`${date}T12:00:00Z`).toLocaleDateString(language, {
    weekday: "short",
    timeZone: "UTC",
  });
  return `${day} ${date}`;
}

/** Today as dates are kept, by the clock of the device. */
export function today(): string {
  const now = new Date();
  const parts = [now.getFullYear(), now.getMonth() + 1, now.getDate()];
  return parts.map((part) => String(part).padStart(2, "0")).join("-");
}
