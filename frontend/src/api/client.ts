/** The one way to the server: typed by its OpenAPI document, judged by status, errors as Errors. */
import createClient from "openapi-fetch";
import { hearOfOther, PERSON, shownPerson } from "./person";
import type { components, paths } from "./schema.generated";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

/** What the server refused, in its own plain words. `status` 0: it did not answer at all. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.detail);
  }
}

export const api = createClient<paths>({ baseUrl: window.location.origin });

const READS = ["GET", "HEAD"];
api.use({
  onRequest: ({ request }) => {
    const person = shownPerson();
    if (person !== undefined && !READS.includes(request.method) && !request.headers.has(PERSON))
      request.headers.set(PERSON, String(person));
    return request;
  },
});

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The body of a good answer; throws ApiError for any other, and when there is none. */
export async function body<T>(call: Promise<Answer<T>>): Promise<T> {
  const answer = await call.catch((cause: unknown) => {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new ApiError(0, problem(0, "The server does not answer. Is it still running? Nothing was lost; try again."));
  });
  if (!answer.response.ok) {
    const said = answer.error as Partial<Problem> | undefined;
    if (said?.type === "other-person") hearOfOther();
    throw new ApiError(
      answer.response.status,
      said?.detail ? (said as Problem) : problem(answer.response.status, "The server could not answer; try again."),
    );
  }
  return answer.data as T;
}

/** The header that names the revision that a write changes. */
export const ifMatch = (revision: number) => ({ "If-Match": `"${revision}"` });

function problem(status: number, detail: string): Problem {
  return { type: "no-answer", title: "No answer", status, detail };
}
