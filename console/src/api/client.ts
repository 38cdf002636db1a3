/** The one typed client: every call to the service goes through here. */

import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";
import { bindToSeen } from "./seen";

export type Schemas = components["schemas"];

/** What went wrong, as the service says it (RFC 9457). */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly detail: string,
    readonly remedy: string,
    readonly field?: string | null,
  ) {
    super(detail);
  }
}

let csrf = "";

export function rememberCsrf(token: string | null | undefined) {
  csrf = token ?? "";
}

export function csrfToken() {
  return csrf;
}

/** A ProblemError from any answer that is no success. */
export function problemFrom(status: number, body: unknown): ProblemError {
  const problem = (body ?? {}) as Partial<Schemas["Problem"]>;
  return new ProblemError(
    status,
    problem.code ?? `http-${status}`,
    problem.detail ?? `The service answered with HTTP ${status}.`,
    problem.remedy ?? "Try again in a moment.",
    problem.field,
  );
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRF-Token", csrf);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return;
    throw problemFrom(response.status, await response.json().catch(() => null));
  },
  onError() {
    return new ProblemError(0, "no-service", "The service cannot be reached.", "Check that it runs, then try again.");
  },
};

export const api = createClient<paths>({ baseUrl: window.location.origin });

api.use(guard, bindToSeen);

/** The body of an answer that is certain to be there, since every failure is thrown. */
export async function taken<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data } = await call;
  if (data === undefined)
    throw new ProblemError(0, "empty", "The service sent an empty answer.", "Load the page again.");
  return data;
}
