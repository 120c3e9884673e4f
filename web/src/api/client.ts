/** The one way to the server: typed calls, the token on every write, refusals as `Refusal`. */
import createClient, { type Middleware } from "openapi-fetch";
import { setDoor } from "../app/door";
import { idleSeconds } from "../app/idle";
import { currentPerson } from "../app/person";
import { texts } from "../texts";
import type { components, paths } from "./generated/schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];
export type ErrorEntry = Schemas["ErrorEntry"];

let csrfToken = "";

/** Keep the token that the session answer brought. */
export function keepCsrfToken(token: string): void {
  csrfToken = token;
}

/** The token for a write that does not go through the typed client. */
export function currentCsrfToken(): string {
  return csrfToken;
}

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken);
    request.headers.set("X-Ember-Idle", String(idleSeconds()));
    const person = currentPerson();
    // Whoever signs in is somebody else until they have. What is read says "yours" too, so it names its reader.
    if (person && !request.url.endsWith("/session/")) request.headers.set("X-Ember-Person", person.id);
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: "" });
api.use(withToken);

/** The server said no, and why. */
export class Refusal extends Error {
  readonly status: number;
  readonly code: string;
  readonly errors: ErrorEntry[];
  readonly current: unknown;

  constructor(problem: Problem) {
    super(problem.title);
    this.status = problem.status;
    this.code = problem.code;
    this.errors = problem.errors;
    this.current = problem.current;
  }
}

/** Somebody else wrote first: what was sent was made on something older. */
export function isStale(error: unknown): error is Refusal {
  return error instanceof Refusal && error.code === "stale_version";
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The server cannot be reached. */
export function offline(): Refusal {
  return new Refusal({
    type: "offline",
    title: texts.offline,
    status: 0,
    code: "offline",
    errors: [],
  });
}

/** What a refused answer says; words of our own where it says nothing. */
export function refusalIn(body: unknown, status: number): Refusal {
  const problem = body as Problem | null | undefined;
  if (status === 401) setDoor(problem?.code === "another_person" ? "another" : "lapsed");
  if (problem?.code) return new Refusal(problem);
  const title = status >= 500 ? texts.serverFailed : texts.notUnderstood;
  return new Refusal({ type: "unexpected", title, status, code: "unexpected", errors: [] });
}

/** The data of an answer, or the refusal as an exception. */
export async function answered<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch (error) {
    // Work that was called off is no lost connection.
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw offline();
  }
  if (answer.error === undefined && answer.response.ok) return answer.data as T;
  throw refusalIn(answer.error, answer.response.status);
}
