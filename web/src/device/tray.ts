/**
 * The one sender of the application: entries are kept on the device, sent in order, once, by one tab, under the
 * name of the person who made them, and stay until the server has them or a person discards them.
 */
import { Refusal } from "../api/client";
import { currentPerson } from "../app/person";
import { doorState, setDoor, subscribeDoor } from "../app/door";
import { deliver, isFinal } from "./delivery";
import type { Entry, EntryRefusal, NewEntry } from "./entry";
import { renewToken } from "./renew";
import { dropEntry, everyEntry, putEntry, settleEntry } from "./store";

const RETRY_MS = 3000;
const DRAWN_MS = 30;
/** An entry that was taken is shown until the screen has what it changed, and no longer than this. */
const SHOWN_MS = 10_000;
const LOCK = "ember-tray-sender";
/** After so many failures of the server itself the entry is laid aside, so that the others can go. */
const MOST_SERVER_FAILURES = 4;

export interface TrayState {
  /** Entries of the person who is signed in, in order. */
  mine: readonly Entry[];
  /** How many of other people wait on this device, by name. */
  others: Readonly<Record<string, number>>;
  /** The server does not answer at the moment. */
  isOffline: boolean;
  /** What is kept on the device has been read. */
  isReady: boolean;
}

/** Told of what the server took; resolves once the screen has what it changed. */
type SentListener = (entry: Entry, answer: unknown) => Promise<unknown>;

/** What one tab tells the others. */
type Told = "changed" | { sent: Entry; answer: unknown };

let all: Entry[] = [];
let isOffline = false;
let isReady = false;
let state: TrayState = { mine: [], others: {}, isOffline, isReady };
let writes: Promise<unknown> = Promise.resolve();
let wake: (isOnline?: boolean) => void = () => undefined;
let lastOrder = 0;
const failures = new Map<string, number>();
/** Taken by the server, and still shown: what they changed is not on this screen yet. */
const taken = new Map<string, Entry>();
const watchers = new Set<() => void>();
const listeners = new Set<SentListener>();
const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("ember-tray");

function tellWatchers(): void {
  const person = currentPerson()?.id;
  const others: Record<string, number> = {};
  for (const entry of all) {
    if (entry.person !== person) others[entry.personName] = (others[entry.personName] ?? 0) + 1;
  }
  state = { mine: all.filter((entry) => entry.person === person), others, isOffline, isReady };
  for (const watcher of watchers) watcher();
}

/** Writes to the device's database one after the other, and tell the other tabs when one is done. */
function write(action: () => Promise<unknown>): Promise<unknown> {
  writes = writes.then(action).then(
    () => channel?.postMessage("changed"),
    // A device that keeps nothing (private window, full disk) still sends what is on the screen.
    () => undefined,
  );
  return writes;
}

async function reload(): Promise<void> {
  await writes;
  const kept = await everyEntry();
  const shown = [...taken.values()].filter(({ id }) => !kept.some((one) => one.id === id));
  all = [...kept, ...shown].sort((a, b) => a.order - b.order);
  lastOrder = Math.max(lastOrder, ...all.map((entry) => entry.order));
  isReady = true;
  tellWatchers();
  wake();
}

function replace(id: string, next: Entry | null): void {
  const known = all.some((entry) => entry.id === id);
  all = all.flatMap((entry) => (entry.id !== id ? [entry] : next === null ? [] : [next]));
  if (!known && next !== null) all = [...all, next];
  tellWatchers();
}

export function subscribe(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

export function snapshot(): TrayState {
  return state;
}

/** Called with every entry that the server took, in this tab or another, and its answer. */
export function onSent(listener: SentListener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Put an entry into the tray; it is kept at once and sent when its turn comes. Returns its identity. */
export function send(wanted: NewEntry): string {
  const person = currentPerson();
  if (person === null) throw new Error("nobody is signed in");
  const key = wanted.key ?? null;
  const old = key === null ? undefined : all.find((entry) => entry.key === key && entry.person === person.id);
  const now = Date.now();
  lastOrder = Math.max(lastOrder + 1, now);
  // Whatever rests is sent before what comes after it.
  all = all.map((entry) => (entry.restsUntil > 0 && entry !== old ? { ...entry, restsUntil: 0 } : entry));
  const entry: Entry = {
    id: old?.id ?? wanted.id ?? crypto.randomUUID(),
    person: person.id,
    personName: person.name,
    order: old?.order ?? lastOrder,
    madeAt: new Date(now).toISOString(),
    label: wanted.label,
    where: wanted.where,
    page: wanted.page,
    method: wanted.method ?? "POST",
    path: wanted.path,
    body: wanted.body,
    base: (old ? old.base : wanted.base) ?? null,
    file: wanted.file ?? null,
    loop: wanted.loop ?? null,
    place: wanted.place ?? 1,
    key,
    rev: (old?.rev ?? 0) + 1,
    restsUntil: wanted.rests_ms ? now + wanted.rests_ms : 0,
    state: "waiting",
    refusal: null,
    fields: wanted.fields ?? [],
  };
  replace(entry.id, entry);
  void write(() => putEntry(entry));
  wake();
  return entry.id;
}

/** Send a refused entry again, perhaps with a corrected body, or on top of what the server holds now. */
export function retry(id: string, body?: Record<string, unknown>, base?: Record<string, unknown>): void {
  const entry = all.find((one) => one.id === id);
  if (entry === undefined) return;
  failures.delete(id);
  const next: Entry = {
    ...entry,
    body: body ?? entry.body,
    base: base ?? entry.base ?? null,
    rev: entry.rev + 1,
    state: "waiting",
    refusal: null,
    restsUntil: 0,
  };
  replace(id, next);
  void write(() => putEntry(next));
  wake();
}

/** Give an entry up; only a person does that. */
export function discard(id: string): void {
  replace(id, null);
  void write(() => dropEntry(id));
}

/** Another person is signed in, or nobody: their entries, not the last one's. */
export function personChanged(): void {
  tellWatchers();
  wake();
}

/** The next entry to send, or how long to wait for it [ms], or null. */
function next(): Entry | number | null {
  const person = currentPerson()?.id;
  const first = all.find(
    (entry) => entry.person === person && entry.state === "waiting" && !taken.has(entry.id),
  );
  if (first === undefined) return null;
  const rests = first.restsUntil - Date.now();
  return rests > 0 ? rests : first;
}

function refusalOf(error: unknown): EntryRefusal | null {
  if (!(error instanceof Refusal)) return null;
  const { status, code, message, errors, current } = error;
  return { status, code, text: message, errors, current };
}

/** A document that was changed while it was on its way goes on top of what the server has now. */
function rebased(sent: Entry, answer: unknown): (now: Entry) => Entry {
  const version = (answer as { version?: unknown } | null)?.version;
  return (now) =>
    typeof version === "number" ? { ...now, body: { ...now.body, version }, base: sent.body } : now;
}

/** Show an entry that was taken until the screen has what it changed. */
function showUntil(entry: Entry, drawn: readonly Promise<unknown>[], leave: () => void): void {
  taken.set(entry.id, entry);
  // What has come is drawn a moment later.
  const seen = Promise.allSettled(drawn).then(() => pause_ms(DRAWN_MS));
  void Promise.race([seen, pause_ms(SHOWN_MS)]).then(() => {
    taken.delete(entry.id);
    leave();
  });
}

function setOffline(value: boolean): void {
  if (isOffline === value) return;
  isOffline = value;
  tellWatchers();
}

function pause_ms(time_ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, time_ms));
}

/** Send one entry and put down what became of it; true when the next one may go at once. */
async function sendOne(entry: Entry): Promise<boolean> {
  try {
    const answer = await deliver(entry);
    setOffline(false);
    failures.delete(entry.id);
    // The answer is on the screen before the entry leaves it, or what hangs on both would vanish for a moment.
    const drawn = [...listeners].map((listener) => listener(entry, answer));
    await pause_ms(DRAWN_MS);
    const changed = rebased(entry, answer);
    const leave = () => {
      const now = all.find((one) => one.id === entry.id);
      replace(entry.id, now !== undefined && now.rev !== entry.rev ? changed(now) : null);
    };
    // A document may be changed and sent again before what it changed is on the screen.
    if (entry.key === null) showUntil(entry, drawn, leave);
    else leave();
    void write(() => settleEntry(entry, changed));
    channel?.postMessage({ sent: { ...entry, file: null }, answer });
    return true;
  } catch (error) {
    const said = refusalOf(error);
    if (said?.code === "csrf_failed") return renewToken(entry.person);
    if (said?.status === 401) {
      setDoor(said.code === "another_person" ? "another" : "lapsed");
      return false;
    }
    setOffline(said === null || said.status === 0);
    const count = (failures.get(entry.id) ?? 0) + 1;
    const isBroken = said !== null && said.status >= 500 && said.status !== 503;
    if (isBroken) failures.set(entry.id, count);
    if (error instanceof Refusal && (isFinal(error) || (isBroken && count >= MOST_SERVER_FAILURES))) {
      const now = all.find((one) => one.id === entry.id);
      // Changed meanwhile: what was refused is no longer what stands there.
      if (now === undefined || now.rev !== entry.rev) return true;
      const laid: Entry = { ...now, state: "refused", refusal: said };
      replace(entry.id, laid);
      void write(() => putEntry(laid));
      return true;
    }
    return false;
  }
}

/** Until something wakes the sender: a new entry, the time that a document rests, the next try. */
function pause(wait_ms: number | null, onlyOnline: boolean): Promise<void> {
  return new Promise((resolve) => {
    const timer = wait_ms === null ? null : setTimeout(resolve, wait_ms);
    wake = (isOnline = false) => {
      // A new entry does not hurry a server that is away.
      if (onlyOnline && !isOnline) return;
      if (timer !== null) clearTimeout(timer);
      resolve();
    };
  });
}

/** Send while this person's session holds; the lock then goes to another tab, which may have another's. */
async function sendWhileSignedIn(): Promise<void> {
  while (doorState() === "none") {
    const found = next();
    if (found === null) await pause(null, false);
    else if (typeof found === "number") await pause(found, false);
    else if (!(await sendOne(found)) && doorState() === "none") await pause(RETRY_MS, isOffline);
  }
}

function doorOpens(): Promise<void> {
  return new Promise((resolve) => {
    if (doorState() === "none") return resolve();
    const stop = subscribeDoor(() => {
      if (doorState() !== "none") return;
      stop();
      resolve();
    });
  });
}

async function sendForEver(): Promise<never> {
  for (;;) {
    // Without locks (an old browser, no secure page) the server's identities still keep an entry once.
    if (navigator.locks) await navigator.locks.request(LOCK, sendWhileSignedIn);
    else await sendWhileSignedIn();
    await doorOpens();
  }
}

/** What another tab sent is shown in this one too. */
function sentElsewhere(sent: Entry, answer: unknown): void {
  // What another person was answered (whose lock is theirs, what they may) is not shown to this one.
  const isMine = sent.person === currentPerson()?.id;
  const drawn = [...listeners].map((listener) => listener(sent, isMine ? answer : undefined));
  const now = all.find((one) => one.id === sent.id);
  if (now === undefined) return;
  const leave = () => replace(sent.id, null);
  if (now.rev > sent.rev) {
    // Changed here while it was on its way there.
    const changed = rebased(sent, answer);
    replace(sent.id, changed(now));
    void write(() => settleEntry(sent, changed));
  } else if (sent.key === null) showUntil(sent, drawn, leave);
  else leave();
}

let isStarted = false;

/** Begin: read what is on the device, and send as soon as this is the tab whose turn it is. */
export function start(): void {
  if (isStarted) return;
  isStarted = true;
  channel?.addEventListener("message", (event: MessageEvent<Told>) => {
    if (event.data === "changed") void reload();
    else sentElsewhere(event.data.sent, event.data.answer);
  });
  addEventListener("online", () => wake(true));
  subscribeDoor(() => wake(true));
  void reload()
    .catch(() => {
      isReady = true;
      tellWatchers();
    })
    .then(sendForEver);
}
