/** The one way to the server: typed calls, the token on every write, refusals as `Refusal`. */
import createClient, { type Middleware } from "openapi-fetch";
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

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or the refusal as an exception. */
export async function answered<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new Refusal({
      type: "offline",
      title: "The server does not answer. What you typed is still here; try again in a moment.",
      status: 0,
      code: "offline",
      errors: [],
    });
  }
  if (answer.data !== undefined) return answer.data;
  const problem = answer.error as Problem | undefined;
  throw new Refusal(
    problem?.code
      ? problem
      : {
          type: "unexpected",
          title: `The server answered ${answer.response.status} without saying why.`,
          status: answer.response.status,
          code: "unexpected",
          errors: [],
        },
  );
}
