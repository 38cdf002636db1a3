/** The service, played by a test: what it answers to each call, and what it was asked. */

export interface Call {
  method: string;
  path: string;
  query: Record<string, string>;
  body: unknown;
  headers: Headers;
}

type Answer = unknown | ((call: Call) => unknown);

const answers = new Map<string, Answer>();

/** All calls since the test began, the oldest first. */
export const calls: Call[] = [];

/** What one call gives, by method and path: "GET /api/v1/assets". Several calls are answered alike. */
export function service(table: Record<string, Answer>) {
  for (const [call, answer] of Object.entries(table)) answers.set(call, answer);
}

/** The calls that were made with this method to this path. */
export const callsTo = (name: string) => calls.filter((call) => `${call.method} ${call.path}` === name);

/** What the service says when it refuses (RFC 9457). */
export const problem = (status: number, code: string, detail: string, remedy = "Do it otherwise.") =>
  new Response(JSON.stringify({ status, code, detail, remedy }), {
    status,
    headers: { "Content-Type": "application/problem+json" },
  });

/** An answer that does not come before the test lets it. */
export function later(answer: unknown) {
  let come = () => {};
  const waiting = new Promise<unknown>((resolve) => {
    come = () => resolve(answer);
  });
  return { waiting: () => waiting, come };
}

export function forget() {
  answers.clear();
  calls.length = 0;
}

async function answered(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  const request = new Request(input, init);
  const address = new URL(request.url, "http://localhost");
  const text = request.method === "GET" ? "" : await request.text();
  const call: Call = {
    method: request.method,
    path: address.pathname,
    query: Object.fromEntries(address.searchParams),
    body: text.startsWith("{") ? JSON.parse(text) : text,
    headers: request.headers,
  };
  calls.push(call);
  const answer = answers.get(`${call.method} ${call.path}`);
  if (answer === undefined) throw new TypeError(`the test has no answer to ${call.method} ${call.path}`);
  const given = await (typeof answer === "function" ? answer(call) : answer);
  if (given instanceof Response) return given.clone();
  return new Response(JSON.stringify(given), { headers: { "Content-Type": "application/json" } });
}

globalThis.fetch = answered as typeof fetch;
