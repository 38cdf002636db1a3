// @vitest-environment happy-dom
import { act, renderHook, waitFor } from "@testing-library/react";
import { expect, test } from "vitest";
import { api } from "../src/api/client";
import { useChangePacket } from "../src/api/packets";
import { Inside } from "./drawing";
import { PATH, packet } from "./samples";
import { callsTo, problem, service } from "./service";

const read = (etag: string, more = {}) =>
  new Response(JSON.stringify(packet(more)), { headers: { ETag: etag, "Content-Type": "application/json" } });
const path = { params: { path: { number: "P-0042" } } };
const stale = () => problem(412, "stale", "P-0042 has been changed since you read it.");

test("what is sealed, sent or let out is the version that was read last", async () => {
  service({
    [`GET ${PATH}`]: () => read('"3-aaaaaaaaaaaa"'),
    [`PUT ${PATH}/answers`]: () => read('"4-bbbbbbbbbbbb"'),
    [`POST ${PATH}/seal`]: () => read('"5-cccccccccccc"'),
    [`POST ${PATH}/lodge`]: () => read('"6-dddddddddddd"'),
    [`POST ${PATH}/exhibits`]: {},
  });
  await api.GET("/api/v1/packets/{number}", path);
  await api.PUT("/api/v1/packets/{number}/answers", { ...path, body: { answers: {} } });
  await api.POST("/api/v1/packets/{number}/seal", path);
  await api.POST("/api/v1/packets/{number}/lodge", path);
  await api.POST("/api/v1/packets/{number}/exhibits", { ...path, body: { name: "a.log", size: 1 } });
  const match = (call: string) => callsTo(call).map((one) => one.headers.get("If-Match"));
  expect(match(`PUT ${PATH}/answers`)).toEqual([null]);
  expect(match(`POST ${PATH}/seal`)).toEqual(['"4-bbbbbbbbbbbb"']);
  expect(match(`POST ${PATH}/lodge`)).toEqual(['"5-cccccccccccc"']);
  expect(match(`POST ${PATH}/exhibits`)).toEqual([null]);
});

test("a change goes on the newest version if only something else has changed meanwhile", async () => {
  service({
    [`PATCH ${PATH}`]: ({ headers }: { headers: Headers }) =>
      headers.get("If-Match") === '"7"' ? packet({ version: 8, title: "Better" }) : stale(),
    [`GET ${PATH}`]: packet({ version: 7, exhibits: [] }),
  });
  const { result } = renderHook(() => useChangePacket(packet()), { wrapper: Inside });
  act(() => result.current.mutate({ title: "Better" }));
  await waitFor(() => expect(result.current.data?.version).toBe(8));
});

test("a change is not made over somebody else's", async () => {
  service({ [`PATCH ${PATH}`]: stale, [`GET ${PATH}`]: packet({ version: 7, title: "Written by a colleague" }) });
  const { result } = renderHook(() => useChangePacket(packet()), { wrapper: Inside });
  act(() => result.current.mutate({ title: "Better" }));
  await waitFor(() => expect(result.current.error?.code).toBe("stale"));
  expect(callsTo(`PATCH ${PATH}`)).toHaveLength(1);
});
