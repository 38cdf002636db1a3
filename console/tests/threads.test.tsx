// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import type { Packet } from "../src/api/packets";
import { ForeseenList } from "../src/pages/packets/foreseen";
import { ThreadPart } from "../src/pages/packets/thread";
import { draw } from "./drawing";
import { PATH, packet } from "./samples";
import { callsTo, service } from "./service";

const entry = (id: string, sort: string, words: string, more: object = {}) => ({
  ...{ id, sort, words, at: "2026-11-29T09:00:00Z", by: "teo", text: "", message: null, exhibit: null, new: false },
  ...more,
});
const foreseen = {
  id: "0123456789ab",
  text: "Which firmware?",
  asked_in: 3,
  like: 5,
  cost_hours: 36,
  because: "3 of 5.",
};

beforeEach(() => {
  service({
    "GET /api/v1/me": { name: "marit", person: "Marit", roles: ["keeper", "preparer"], csrf: "c1", version: "0.1.0" },
    [`GET ${PATH}/thread`]: {
      items: [
        entry("1", "state", "packet handed over to teo", { new: true, text: "Ring them." }),
        entry("2", "file", "a.log", { exhibit: "a.log" }),
      ],
      ...{ looked_at: "2026-11-28T09:00:00Z", next: null },
    },
    [`PUT ${PATH}/looked`]: { items: [], looked_at: "2026-11-29T10:00:00Z", next: null },
    [`POST ${PATH}/foreseen`]: packet(),
    "POST /api/v1/desks/tarnfell-support/asked-back": {},
  });
});

test("the thread marks what is new, is narrowed, and is noted as seen by a key", async () => {
  const { user } = draw(<ThreadPart packet={packet()} roles={["releaser"]} />, "/packets/P-0042/thread");
  const fresh = (await screen.findByText("packet handed over to teo")).closest("li") as HTMLElement;
  expect(within(fresh).getByText("new")).toBeTruthy();
  expect(screen.getByRole("link", { name: "a.log" }).getAttribute("href")).toBe("/packets/P-0042/exhibits/a.log");
  await user.click(screen.getByRole("checkbox", { name: "files" }));
  await waitFor(() => expect(callsTo(`GET ${PATH}/thread`).at(-1)?.query.sort).toBe("file"));
  await user.keyboard("z");
  await waitFor(() => expect(callsTo(`PUT ${PATH}/looked`)).toHaveLength(1));
});

test("a question that is foreseen is answered, dismissed or put into the sheet", async () => {
  const { user } = draw(<ForeseenList packet={packet({ foreseen: [foreseen] } as Partial<Packet>)} />);
  expect(await screen.findByText(/It held them up for 1.5 days/)).toBeTruthy();
  await user.type(screen.getByLabelText("Which firmware?"), "7.4.2{Enter}");
  await user.click(screen.getByRole("button", { name: "Does not matter here" }));
  await user.click(await screen.findByRole("button", { name: "Always ask it first" }));
  expect(callsTo(`POST ${PATH}/foreseen`).map((call) => call.body)).toEqual([
    { id: foreseen.id, answer: "7.4.2" },
    { id: foreseen.id, answer: "" },
  ]);
  await screen.findByText("It is in the sheet now");
  expect(callsTo("POST /api/v1/desks/tarnfell-support/asked-back")[0]?.body).toEqual({
    ask: foreseen.text,
    needs: ["fault"],
  });
});
