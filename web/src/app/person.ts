/** Who uses this page: what is kept on the device belongs to a person, and so does every write. */
export interface Person {
  id: string;
  name: string;
}

let present: Person | null = null;

/** Set by the session, before any page is drawn. */
export function setPerson(person: Person | null): void {
  present = person;
}

export function currentPerson(): Person | null {
  return present;
}

const PREFIX = "ember";

/** The name under which something of the present person is kept in the browser's own storage. */
function keyOf(name: string): string {
  return `${PREFIX}:${present?.id ?? "nobody"}:${name}`;
}

/** Something that this person left on this device, or null; what cannot be read counts as nothing. */
export function kept<T>(name: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(name)) ?? "null") as T | null;
  } catch {
    return null;
  }
}

/** Leave something for this person on this device; null takes it away. A full store changes nothing. */
export function keep(name: string, value: unknown): void {
  try {
    if (value === null) localStorage.removeItem(keyOf(name));
    else localStorage.setItem(keyOf(name), JSON.stringify(value));
  } catch {
    // What is on the screen stays there; only the copy for a reload is missing.
  }
}
