/** The session that lapsed while a page was open: signing in goes over the page, and the work goes on. */
export type Lapse = "none" | "lapsed" | "another";

let lapsed: Lapse = "none";
const watchers = new Set<() => void>();

export function subscribeDoor(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

export function doorState(): Lapse {
  return lapsed;
}

/** Nobody is signed in any more ("lapsed"), or somebody else is ("another"), or all is well again ("none"). */
export function setDoor(how: Lapse): void {
  if (lapsed === how) return;
  lapsed = how;
  for (const watcher of watchers) watcher();
}
