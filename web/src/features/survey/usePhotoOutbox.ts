/** Photographs taken at the wall: kept in this device's own database until the server has them. */
import { useCallback, useEffect, useRef, useState } from "react";
import { Refusal, type Schemas } from "../../api/client";
import { useAddPhoto } from "./queries";

export interface WaitingPhoto {
  id: string;
  loop: string;
  moment: Schemas["MomentEnum"];
  caption: string;
  file: Blob;
}

const RETRY_MS = 3000;
const STORE = "waiting";

function done<T>(request: IDBRequest<T>): Promise<T> {
  return new Promise((resolve, reject) => {
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error ?? new Error("database"));
  });
}

async function store(mode: IDBTransactionMode): Promise<IDBObjectStore> {
  const opening = indexedDB.open("ember-photos", 1);
  opening.onupgradeneeded = () => opening.result.createObjectStore(STORE, { keyPath: "id" });
  const database = await done(opening);
  return database.transaction(STORE, mode).objectStore(STORE);
}

async function waitingOf(loop: string): Promise<WaitingPhoto[]> {
  const all = (await done((await store("readonly")).getAll())) as WaitingPhoto[];
  return all.filter((entry) => entry.loop === loop);
}

export function usePhotoOutbox(loop: string) {
  const [waiting, setWaiting] = useState<WaitingPhoto[]>([]);
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const [attempt, setAttempt] = useState(0);
  const sending = useRef(false);
  const { mutateAsync: deliver } = useAddPhoto(loop);

  const reload = useCallback(() => waitingOf(loop).then(setWaiting), [loop]);
  useEffect(() => {
    void reload();
  }, [reload]);
  useEffect(() => {
    const first = waiting[0];
    if (first === undefined || sending.current) return;
    sending.current = true;
    const forget = async () => {
      await done((await store("readwrite")).delete(first.id));
      sending.current = false;
      await reload();
    };
    deliver(first)
      .then(forget)
      .catch((error: unknown) => {
        const said = error instanceof Refusal ? error : null;
        if (said && said.status >= 400 && said.status < 500) {
          setRefusal(said);
          return forget();
        }
        sending.current = false;
        setTimeout(() => setAttempt((count) => count + 1), RETRY_MS);
        return undefined;
      });
  }, [attempt, deliver, reload, waiting]);

  const add = useCallback(
    async (photo: Omit<WaitingPhoto, "id" | "loop">) => {
      setRefusal(null);
      await done((await store("readwrite")).put({ ...photo, id: crypto.randomUUID(), loop }));
      await reload();
    },
    [loop, reload],
  );
  return { waiting, refusal, add };
}
