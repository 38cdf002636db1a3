// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { WebhooksPage } from "../src/pages/house/webhooks";
import { draw } from "./drawing";
import { callsTo, problem, service } from "./service";

const hook = (name: string, more = {}) => ({
  ...{ name, address: `https://hooks.quillmere.example/${name}`, packets_only: true, by: "marit" },
  ...{ at: "2026-11-20T09:00:00Z", waiting: 0, refused: 0, trouble: "", next_try_at: null },
  ...more,
});

const event = { seq: 42, at: "2026-11-20T09:00:00Z", actor: "teo", action: "packet noted", subject: "packet P-0042" };

beforeEach(() => {
  service({
    "GET /api/v1/webhooks": {
      items: [
        hook("board"),
        hook("till", { waiting: 3, refused: 1, trouble: "It answered with HTTP 503.", next_try_at: event.at }),
      ],
    },
    "GET /api/v1/webhooks/till/refused": {
      items: [{ event: { ...event, packet: "P-0042" }, reason: "It refused it.", at: event.at, again: false }],
    },
    "GET /api/v1/webhooks/board/refused": { items: [] },
  });
});

test("each webhook says what waits for it and why", async () => {
  draw(<WebhooksPage />, "/webhooks");
  const ill = await screen.findByRole("row", { name: /till/ });
  expect(ill.textContent).toContain("It answered with HTTP 503. It is tried again at");
  expect(screen.getByRole("row", { name: /board/ }).textContent).toContain("well");
});

test("a new one shows its secret once; one that is not allowed says so", async () => {
  service({ "POST /api/v1/webhooks": problem(422, "invalid", "The house allows no webhook to that address.") });
  const { user } = draw(<WebhooksPage />, "/webhooks");
  await user.keyboard("+");
  await user.type(await screen.findByLabelText("Name"), "wall");
  await user.type(screen.getByLabelText("Address"), "https://elsewhere.example/");
  await user.click(screen.getByRole("button", { name: "Add it" }));
  await screen.findByText(/The house allows no webhook/);
  service({ "POST /api/v1/webhooks": { ...hook("wall"), secret: "whsec_dGhpcw==" } });
  await user.click(screen.getByRole("button", { name: "Add it" }));
  await screen.findByText("whsec_dGhpcw==");
  expect(callsTo("POST /api/v1/webhooks").at(-1)?.body).toEqual({
    name: "wall",
    address: "https://elsewhere.example/",
  });
  await user.click(screen.getByRole("button", { name: "Close" }));
  await waitFor(() => expect(screen.queryByText("whsec_dGhpcw==")).toBeNull());
});

test("what was refused is sent again, and a webhook is removed", async () => {
  service({
    "POST /api/v1/webhooks/till/refused/42/resend": { event, reason: "", at: event.at, again: true },
    "DELETE /api/v1/webhooks/till": { done: true },
  });
  const { user } = draw(<WebhooksPage />, "/webhooks");
  await user.click(await screen.findByRole("button", { name: "Open till" }));
  const dialog = await screen.findByRole("dialog", { name: "till" });
  await user.click(await within(dialog).findByRole("button", { name: "Send again event 42" }));
  await waitFor(() => expect(callsTo("POST /api/v1/webhooks/till/refused/42/resend")).toHaveLength(1));
  await user.click(within(dialog).getByRole("button", { name: "Remove it" }));
  await waitFor(() => expect(callsTo("DELETE /api/v1/webhooks/till")).toHaveLength(1));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
});
