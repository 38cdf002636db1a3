// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test } from "vitest";
import type { Packet } from "../src/api/packets";
import { PacketPage } from "../src/pages/packets/page";
import { draw, where } from "./drawing";
import { asset, PATH, packet, question } from "./samples";
import { calls, callsTo, problem, service } from "./service";

const ALL = ["keeper", "preparer", "releaser"];

const seal = {
  ...{ at: "2026-11-20T09:00:00Z", by: "marit", tag_manifest: "ab".repeat(32), key: "k1", files: 4, octets: 900 },
  version: 3,
  bag_sha256: "cd".repeat(32),
};

async function open(more: Partial<Packet>, roles = ALL) {
  service({ [`GET ${PATH}`]: packet({ asset, questions: [question("impact"), question("tried")], ...more }) });
  const drawn = draw(<PacketPage number="P-0042" part="questions" name={undefined} roles={roles} />, "/packets/P-0042");
  await screen.findByRole("heading", { level: 1, name: "Volumes are slow" });
  return drawn;
}

const stopped: Packet["checks"] = [
  {
    code: "asked",
    level: "stop",
    sentence: "The desk wants to know: impact?",
    remedy: "Answer it.",
    act: "answer",
    target: "impact",
  },
  {
    code: "exhibit",
    level: "warn",
    sentence: "a.log may leak.",
    remedy: "Look at it.",
    act: "open_exhibit",
    target: "a.log",
  },
  {
    code: "desk",
    level: "hint",
    sentence: "Its sheet is old.",
    remedy: "See the desks.",
    act: "open_desks",
    target: "",
  },
  {
    code: "phone",
    level: "hint",
    sentence: "Nobody is on call.",
    remedy: "Ask somebody.",
    act: "unheard_of",
    target: "",
  },
  { code: "serial", level: "pass", sentence: "The serial is well formed.", remedy: "", act: "", target: "" },
];

const beside = () => screen.getByRole("complementary", { name: "Checks, ruling and seal" });

test("each stop leads to where it is cured", async () => {
  const { user } = await open({ checks: stopped });
  expect(within(beside()).getByText("1 stop left.")).toBeTruthy();
  expect(within(beside()).getByText("1 check passed")).toBeTruthy();
  await user.click(within(beside()).getByRole("button", { name: "Answer it." }));
  expect(where()).toBe("/packets/P-0042/questions/impact");
  await user.click(within(beside()).getByRole("button", { name: "Look at it." }));
  expect(where()).toBe("/packets/P-0042/exhibits/a.log");
  expect(within(beside()).queryByRole("button", { name: "Ask somebody." })).toBeNull();
  await user.click(within(beside()).getByRole("link", { name: "See the desks." }));
  expect(where()).toBe("/desks");
});

test("S seals what nothing stops, and nothing else", async () => {
  const { user } = await open({ checks: stopped });
  await user.keyboard("s");
  expect(callsTo(`POST ${PATH}/seal`)).toEqual([]);
  expect(within(beside()).queryByRole("button", { name: /Seal/ })).toBeNull();
});

test("what was sealed is shown with when and by whom, and L lodges it", async () => {
  service({
    [`POST ${PATH}/seal`]: packet({ asset, life: "sealed", seal }),
    [`POST ${PATH}/lodge`]: packet({
      asset,
      life: "sealed",
      seal,
      lodge_state: "queued",
      lodge_status_text: "On its way.",
    }),
  });
  const { user } = await open({ checks: [] });
  await user.keyboard("s");
  expect(await within(beside()).findByRole("heading", { name: "Sealed" })).toBeTruthy();
  expect(within(beside()).getByText(/by marit\. Not lodged yet\./)).toBeTruthy();
  expect(within(beside()).getByRole("link", { name: "Bag" }).getAttribute("href")).toBe(`${PATH}/bag`);
  await user.keyboard("l");
  expect(await within(beside()).findByText("On its way.")).toBeTruthy();
  expect(callsTo(`POST ${PATH}/lodge`)).toHaveLength(1);
});

test("who may not release is told that it is ready, and cannot seal or lodge", async () => {
  const { user } = await open({ checks: [] }, ["preparer"]);
  expect(within(beside()).getByText("Ready. A releaser may seal it.")).toBeTruthy();
  await user.keyboard("sl");
  expect(calls.filter((call) => call.method === "POST")).toEqual([]);
});

test("what waits for a desk that is away is tried at once, or taken back by Cancel", async () => {
  const waiting = packet({
    ...{ asset, life: "sealed", seal, lodge_state: "queued", next_try_at: "2026-11-20T10:00:00Z" },
    lodge_status_text: "The desk does not answer.",
  });
  service({
    [`POST ${PATH}/try-now`]: waiting,
    [`POST ${PATH}/cancel`]: packet({ asset, life: "sealed", seal, lodge_state: null }),
  });
  const { user } = await open(waiting);
  expect(within(beside()).getByText(/The desk does not answer\. Next try /)).toBeTruthy();
  await user.keyboard("y");
  await waitFor(() => expect(callsTo(`POST ${PATH}/try-now`)).toHaveLength(1));
  await user.click(within(beside()).getByRole("button", { name: "Cancel" }));
  expect(await within(beside()).findByRole("button", { name: /Lodge/ })).toBeTruthy();
  expect(callsTo(`POST ${PATH}/cancel`)).toHaveLength(1);
});

test("a Cancel that came too late says so and leaves what is shown", async () => {
  const late = problem(409, "on-its-way", "P-0042 is being sent just now.", "Wait for what the desk says.");
  service({ [`POST ${PATH}/cancel`]: late });
  const { user } = await open({
    ...{ life: "sealed", seal, lodge_state: "queued", next_try_at: "2026-11-20T10:00:00Z" },
    lodge_status_text: "The desk does not answer.",
  });
  await user.click(within(beside()).getByRole("button", { name: "Cancel" }));
  expect((await within(beside()).findByRole("alert")).textContent).toContain("is being sent just now");
  expect(within(beside()).getByRole("button", { name: "Cancel" })).toBeTruthy();
});

test("a refusal says what the desk said and how it is cured, and leads back to drafting", async () => {
  service({ [`POST ${PATH}/reopen`]: packet({ asset, checks: [] }) });
  const { user } = await open({
    life: "refused",
    refusals: [{ code: "serial", text: "Unknown serial", cure: "Compare it with the label.", act: "mend_asset" }],
  });
  expect(within(beside()).getByText(/Unknown serial/).textContent).toContain("Compare it with the label.");
  await user.click(within(beside()).getByRole("button", { name: "Back to drafting" }));
  expect(await within(beside()).findByText(/Nothing stops it\. 0 checks passed/)).toBeTruthy();
});

test("numbers go through the parts of a packet", async () => {
  const { user } = await open({});
  for (const [key, part] of Object.entries({ 1: "thing", 2: "ruling", 3: "questions", 4: "exhibits", 5: "letter" })) {
    await user.keyboard(key);
    expect(where()).toBe(`/packets/P-0042/${part}`);
  }
});

test("F asks a desk for news, but not one that is entered by hand", async () => {
  const lodged = { life: "lodged", turn: "vendor", reference: "TS-1", seal } as const;
  service({ [`POST ${PATH}/follow`]: packet({ asset, ...lodged }) });
  const { user, unmount } = await open(lodged);
  await user.keyboard("f");
  await waitFor(() => expect(callsTo(`POST ${PATH}/follow`)).toHaveLength(1));
  unmount();
  const again = await open({ ...lodged, by_hand: true });
  await again.user.keyboard("f");
  expect(callsTo(`POST ${PATH}/follow`)).toHaveLength(1);
});

test("a packet that is not there says so", async () => {
  service({ "GET /api/v1/packets/P-9": problem(404, "not-found", "There is no packet P-9.", "Press / to find it.") });
  draw(<PacketPage number="P-9" part={undefined} name={undefined} roles={ALL} />);
  expect((await screen.findByRole("alert")).textContent).toBe("There is no packet P-9.Press / to find it.");
});
