/** Long work: a request answered in lines, progress first, the result or the problem last. */
import { currentPerson } from "../app/person";
import { currentCsrfToken, offline, type Problem, Refusal, refusalIn } from "./client";

export interface Progress {
  done: number;
  of: number;
}

/** How far it is, and now and then what is known so far. */
export interface Told<T> extends Progress {
  so_far?: T;
}

type Line<T> = { result: T } | { problem: Problem } | Told<T>;

/** Ask for work that tells how far it is; aborting the signal stops the work on the server too. */
export async function streamed<T>(
  path: string,
  body: unknown,
  signal: AbortSignal,
  onProgress: (progress: Told<T>) => void,
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`${path}?progress=1`, {
      method: "POST",
      headers: {
        "Content-Type": "application/json",
        "X-CSRFToken": currentCsrfToken(),
        "X-Ember-Person": currentPerson()?.id ?? "",
      },
      body: JSON.stringify(body),
      signal,
    });
  } catch (error) {
    throw signal.aborted ? error : offline();
  }
  if (!response.ok || response.body === null) {
    throw refusalIn(await response.json().catch(() => null), response.status);
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { value, done } = await reader.read().catch((error: unknown) => {
      throw signal.aborted ? error : offline();
    });
    const lines = (rest + (value ?? "")).split("\n");
    rest = lines.pop() ?? "";
    for (const text of lines) {
      const line = JSON.parse(text) as Line<T>;
      if ("result" in line) return line.result;
      if ("problem" in line) throw new Refusal(line.problem);
      onProgress(line);
    }
    if (done) throw offline();
  }
}
