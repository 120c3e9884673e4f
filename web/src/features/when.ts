/** A time as people here read it. */
export function when(at: string): string {
  return new Date(at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" });
}
