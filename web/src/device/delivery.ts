/** Sending one entry, as the person who made it. */
import { answered, currentCsrfToken, type Problem, type Refusal } from "../api/client";
import type { Entry } from "./entry";

async function parsed(response: Response): Promise<{ data?: unknown; error?: unknown; response: Response }> {
  const text = await response.text();
  let body: unknown;
  try {
    body = text === "" ? null : JSON.parse(text);
  } catch {
    body = {};
  }
  return response.ok ? { data: body, response } : { error: body as Problem, response };
}

/** The server's answer; a refusal or a lost connection as `Refusal`. */
export function deliver(entry: Entry): Promise<unknown> {
  const headers: Record<string, string> = {
    "X-CSRFToken": currentCsrfToken(),
    "X-Ember-Person": entry.person,
  };
  let body: BodyInit;
  if (entry.file) {
    const form = new FormData();
    for (const [name, value] of Object.entries(entry.body)) form.set(name, String(value));
    form.set("file", entry.file, "photo");
    body = form;
  } else {
    headers["Content-Type"] = "application/json";
    body = JSON.stringify(entry.body);
  }
  return answered(fetch(entry.path, { method: entry.method, headers, body }).then(parsed));
}

/** Whether a refusal means that the entry as it is can never be taken. */
export function isFinal(refusal: Refusal): boolean {
  return refusal.status >= 400 && refusal.status < 500 && ![401, 408, 425, 429].includes(refusal.status);
}
