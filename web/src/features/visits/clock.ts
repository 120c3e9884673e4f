/** Minutes of the day as a clock shows them, and back. */
export function clock(minutes: number): string {
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

/** How long something takes, as people say it: 6 h 40 min. */
export function duration(minutes: number): string {
  const [hours, rest] = [Math.floor(minutes / 60), minutes % 60];
  if (hours === 0) return `${rest} min`;
  return rest > 0 ? `${hours} h ${rest} min` : `${hours} h`;
}

/** Null for an empty field. */
export function minutesOf(time: string): number | null {
  const found = /^(\d{1,2}):(\d{2})/.exec(time);
  return found === null ? null : Number(found[1]) * 60 + Number(found[2]);
}
