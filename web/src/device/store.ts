/** The device's own database of entries that the server does not have yet. */
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Entry } from "./entry";

interface Schema extends DBSchema {
  entries: { key: string; value: Entry };
}

let opening: Promise<IDBPDatabase<Schema>> | null = null;

function database(): Promise<IDBPDatabase<Schema>> {
  opening ??= openDB<Schema>("ember-tray", 1, {
    upgrade: (fresh) => void fresh.createObjectStore("entries", { keyPath: "id" }),
  });
  return opening;
}

export async function everyEntry(): Promise<Entry[]> {
  const found = await (await database()).getAll("entries");
  return found.sort((a, b) => a.order - b.order);
}

export async function putEntry(entry: Entry): Promise<void> {
  await (await database()).put("entries", entry);
}

export async function dropEntry(id: string): Promise<void> {
  await (await database()).delete("entries", id);
}

/**
 * The server has this revision of an entry: it goes, unless it was changed while it was on its way; then the
 * change stays, made on what the server has now.
 */
export async function settleEntry(sent: Entry, rebased: (now: Entry) => Entry): Promise<void> {
  const tx = (await database()).transaction("entries", "readwrite");
  const now = await tx.store.get(sent.id);
  if (now !== undefined && now.rev !== sent.rev) await tx.store.put(rebased(now));
  else await tx.store.delete(sent.id);
  await tx.done;
}
