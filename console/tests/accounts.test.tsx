// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { AccountsPage } from "../src/pages/accounts/list";
import { OwnPage } from "../src/pages/accounts/own";
import { draw } from "./drawing";
import { callsTo, problem, service } from "./service";

const account = (name: string, more = {}) => ({
  ...{ name, person: `${name} of ours`, roles: ["preparer"], active: true, sessions: 0, tokens: 0, seen_at: null },
  ...{ kind: "person", ways: ["password"] },
  ...more,
});

beforeEach(() => {
  service({
    "GET /api/v1/accounts": {
      items: [account("teo", { sessions: 1, tokens: 2 }), account("gone", { active: false })],
    },
    "GET /api/v1/release-rules": { items: [] },
    "GET /api/v1/people": { items: [{ key: "ines", name: "Ines Harrowgate" }], next: null },
  });
});

async function open() {
  const drawn = draw(<AccountsPage />);
  await screen.findByRole("row", { name: /^teo/ });
  return drawn;
}

test("each account says where it is signed in, and whether it may", async () => {
  await open();
  const rows = screen
    .getAllByRole("row")
    .slice(1)
    .map((row) => row.textContent);
  expect(rows[0]).toContain("1 session, 2 tokens");
  expect(rows[1]).toContain("gone disabled");
  expect(rows[1]).toContain("nowhere");
});

test("an account is added by keyboard, with all that it needs", async () => {
  service({ "POST /api/v1/accounts": account("ines") });
  const { user } = await open();
  await user.keyboard("+");
  const form = await screen.findByRole("dialog", { name: "Add an account" });
  await user.type(within(form).getByLabelText("Name"), "ines");
  await user.selectOptions(
    within(form).getByLabelText("Person"),
    await within(form).findByRole("option", { name: "Ines Harrowgate" }),
  );
  await user.click(within(form).getByRole("checkbox", { name: "releaser" }));
  await user.click(within(form).getByRole("checkbox", { name: "reader" }));
  await user.click(within(form).getByRole("button", { name: "Add it" }));
  expect(callsTo("POST /api/v1/accounts")).toEqual([]); // a password is wanted first
  await user.type(within(form).getByLabelText("Password"), "linden cinder yarrow");
  await user.click(within(form).getByRole("button", { name: "Add it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(callsTo("POST /api/v1/accounts")[0]?.body).toEqual({
    ...{ name: "ines", password: "linden cinder yarrow", roles: ["releaser", "reader"], person: "ines" },
  });
});

test("a program has no password, and is given a token", async () => {
  service({ "POST /api/v1/accounts": account("reports", { kind: "program", ways: [] }) });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Add a program" }));
  const form = await screen.findByRole("dialog", { name: "Add a program" });
  expect(within(form).queryByLabelText("Password")).toBeNull();
  await user.type(within(form).getByLabelText("Name"), "reports");
  await user.click(within(form).getByRole("checkbox", { name: "reader" }));
  await user.click(within(form).getByRole("button", { name: "Add it" }));
  await waitFor(() =>
    expect(callsTo("POST /api/v1/accounts")[0]?.body).toEqual({ name: "reports", kind: "program", roles: ["reader"] }),
  );
});

test("a rule for two people is added and removed", async () => {
  const rule = {
    id: "r1",
    reason: "Four eyes",
    vendor: null,
    severity: "1",
    kind: null,
    created_at: "2026-11-20T08:00:00Z",
  };
  service({
    "GET /api/v1/release-rules": { items: [rule] },
    "GET /api/v1/vendors": { items: [], next: null },
    "POST /api/v1/release-rules": rule,
    "DELETE /api/v1/release-rules/r1": { done: true },
  });
  const { user } = await open();
  await user.click(await screen.findByRole("button", { name: "Remove the rule Four eyes" }));
  await waitFor(() => expect(callsTo("DELETE /api/v1/release-rules/r1")).toHaveLength(1));
  await user.click(screen.getByRole("button", { name: "Add a rule" }));
  const form = await screen.findByRole("dialog");
  await user.type(within(form).getByLabelText("Reason"), "Four eyes");
  await user.type(within(form).getByLabelText("Severity"), "1");
  await user.click(within(form).getByRole("button", { name: "Add it" }));
  await waitFor(() =>
    expect(callsTo("POST /api/v1/release-rules")[0]?.body).toEqual({
      ...{ reason: "Four eyes", vendor: null, severity: "1", kind: null },
    }),
  );
});

test("what the service refuses stands in the form", async () => {
  service({
    "POST /api/v1/accounts": problem(422, "short", "The password has fewer than 12 characters.", "Take more."),
  });
  const { user } = await open();
  await user.keyboard("+");
  const form = await screen.findByRole("dialog");
  await user.type(within(form).getByLabelText("Name"), "ines");
  await user.type(within(form).getByLabelText("Password"), "short{Enter}");
  expect((await within(form).findByRole("alert")).textContent).toContain("fewer than 12 characters");
});

test("a change without a new password leaves the password, and the person, as they are", async () => {
  service({ "PATCH /api/v1/accounts/teo": account("teo") });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Change teo" }));
  const form = await screen.findByRole("dialog", { name: "Change teo" });
  expect(within(form).getByLabelText<HTMLInputElement>("Name").disabled).toBe(true);
  await user.click(within(form).getByRole("checkbox", { name: "keeper" }));
  await user.click(within(form).getByRole("button", { name: "Change it" }));
  await waitFor(() =>
    expect(callsTo("PATCH /api/v1/accounts/teo")[0]?.body).toEqual({ roles: ["keeper", "preparer"] }),
  );
});

test("somebody who leaves is disabled, or only signed out everywhere", async () => {
  service({ "PATCH /api/v1/accounts/teo": account("teo"), "POST /api/v1/accounts/teo/sign-out": account("teo") });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Disable or sign out teo" }));
  await user.click(await screen.findByRole("button", { name: "Sign out everywhere" }));
  await waitFor(() => expect(callsTo("POST /api/v1/accounts/teo/sign-out")).toHaveLength(1));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  await user.click(screen.getByRole("button", { name: "Disable or sign out teo" }));
  await user.click(await screen.findByRole("button", { name: "Disable" }));
  await waitFor(() => expect(callsTo("PATCH /api/v1/accounts/teo")[0]?.body).toEqual({ active: false }));
});

test("one who was disabled is let in again", async () => {
  service({ "PATCH /api/v1/accounts/gone": account("gone") });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Enable gone" }));
  const asked = await screen.findByRole("dialog", { name: "gone" });
  expect(within(asked).queryByRole("button", { name: "Disable" })).toBeNull();
  await user.click(within(asked).getByRole("button", { name: "Enable" }));
  await waitFor(() => expect(callsTo("PATCH /api/v1/accounts/gone")[0]?.body).toEqual({ active: true }));
});

const token = (id: string, more = {}) => ({
  ...{ id, purpose: `script ${id}`, rights: ["read", "prepare"], created_at: "2026-11-20T08:00:00Z", seen_at: null },
  ...{ expires_at: "2027-11-20T08:00:00Z" },
  ...more,
});

async function openOwn(items: object[]) {
  service({
    "GET /api/v1/me": { name: "teo", person: "Teo Valcourt", roles: ["preparer"], csrf: "c", version: "0.1.0" },
    "GET /api/v1/tokens": { items },
    "GET /api/v1/sign-in": { provider: null, passkeys: false },
    "GET /api/v1/me/passkeys": { items: [] },
  });
  const drawn = draw(<OwnPage />);
  await screen.findByRole("heading", { name: "Teo Valcourt" });
  return drawn;
}

test("one's tokens say what they may and when they were used, and are revoked one by one", async () => {
  service({ "DELETE /api/v1/tokens/t2": { done: true } });
  const { user } = await openOwn([token("t1"), token("t2", { rights: ["read"], seen_at: "2026-11-21T08:00:00Z" })]);
  const rows = (await screen.findAllByRole("row")).slice(1).map((row) => row.textContent);
  expect(rows[0]).toMatch(/^script t1read, prepare20 Nov 2026never/);
  expect(rows[1]).toMatch(/^script t2read2/);
  await user.click(screen.getByRole("button", { name: "Revoke the token for script t2" }));
  await waitFor(() => expect(callsTo("DELETE /api/v1/tokens/t2")).toHaveLength(1));
});

test("who has no token is told so", async () => {
  await openOwn([]);
  expect(await screen.findByText("There is no token.")).toBeTruthy();
});

test("a wrong password now changes nothing, and what was typed stays", async () => {
  service({ "PUT /api/v1/me/password": problem(401, "wrong", "The password now is wrong.", "Type it again.") });
  const { user } = await openOwn([]);
  await user.type(screen.getByLabelText("Password now"), "heron");
  await user.type(screen.getByLabelText("New password"), "barley vetch heather{Enter}");
  expect((await screen.findByRole("alert")).textContent).toContain("The password now is wrong.");
  expect(screen.getByLabelText<HTMLInputElement>("New password").value).toBe("barley vetch heather");
});
