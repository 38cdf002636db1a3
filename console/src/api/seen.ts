/** Which version of a packet was read last, so that an act that decides something is bound to what was looked at. */
import type { Middleware } from "openapi-fetch";

const seen = new Map<string, string>();

const PACKET = /\/api\/v1\/packets\/(P-\d+)(\/[^?]*)?$/;
/** Acts that end, send or let out something; others only add to a packet and fit any version of it. */
const DECIDING =
  /^\/(seal|lodge|withdraw|settle|accept|contest|close|messages|comment|legend|exhibits\/[^/]+\/release)$/;

export const bindToSeen: Middleware = {
  onRequest({ request }) {
    const [, number = "", act = ""] = PACKET.exec(new URL(request.url).pathname) ?? [];
    const version = seen.get(number);
    if (version && request.method !== "GET" && DECIDING.test(act)) request.headers.set("If-Match", version);
    return request;
  },
  onResponse({ request, response }) {
    const [, number, act] = PACKET.exec(new URL(request.url).pathname) ?? [];
    const version = response.headers.get("ETag");
    if (number && response.ok && version && (!act || request.method !== "GET")) seen.set(number, version);
  },
};
