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

// Hours as plans and papers have them, in every language.
const MINUTE: Intl.DateTimeFormatOptions = { dateStyle: "medium", timeStyle: "short", hourCycle: "h23" };

/** A moment in the time of a zone; its city is named where the clock of this device shows another time. */
export function when(at: string, zone = OWN_ZONE): string {
  return inZone(new Date(at), zone, MINUTE);
}

export function inZone(date: Date, zone: string, format: Intl.DateTimeFormatOptions): string {
  const there = date.toLocaleString(language, { ...format, timeZone: zone });
  return there === date.toLocaleString(language, format) ? there : `${there} (${cityOf(zone)})`;
}

function cityOf(zone: string): string {
  return (zone.split("/").pop() ?? zone).replaceAll("_", " ");
}

/** A day, of its date as it is kept. */
export function dayOf(date: string): string {
  return new Date(`${date}T12:00:00`).toLocaleDateString(language, { dateStyle: "medium" });
}

/** Today as dates are kept, by the clock of the device. */
export function today(): string {
  const now = new Date();
  const parts = [now.getFullYear(), now.getMonth() + 1, now.getDate()];
  return parts.map((part) => String(part).padStart(2, "0")).join("-");
}
