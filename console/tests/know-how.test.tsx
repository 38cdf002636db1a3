// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import ArticleDialog from "../src/pages/know-how/article";
import { KnownIssuesPage } from "../src/pages/know-how/known-issues";
import { draw } from "./drawing";
import { callsTo, later, problem, service } from "./service";

const issue = (key: string, more = {}) => ({
  ...{ key, title: "Screen lost", pattern: "screen [a-z]+ lost", meaning: "The cable is loose.", advice: "" },
  ...{ fixed_in: "", link: "", vendor: null, models: [], packet: null },
  ...more,
});

beforeEach(() => {
  service({
    "GET /api/v1/known-issues": {
      items: [
        issue("screen", { packet: "P-0007", advice: "Press it in.", fixed_in: "4.1.8" }),
        issue("fan", { title: "Fan stopped", vendor: "tarnfell", models: ["TN9", "TN4"] }),
      ],
    },
    "GET /api/v1/vendors": { items: [{ key: "tarnfell", name: "Tarnfell Storage" }], next: null },
  });
});

async function open(roles = ["preparer"]) {
  const drawn = draw(<KnownIssuesPage roles={roles} />, "/known-issues");
  await screen.findByText("Screen lost");
  return drawn;
}

test("each known issue says what to do, where it is fixed and who taught it", async () => {
  await open();
  const [screenLost, fan] = screen.getAllByRole("listitem").map((one) => one.textContent);
  expect(screenLost).toContain("from P-0007");
  expect(screenLost).toContain("Press it in. · fixed in 4.1.8");
  expect(fan).toContain("tarnfell");
  expect(fan).toContain("The cable is loose.");
});

test("a shelf is waited for, says when it is empty, and why it cannot be read", async () => {
  const read = later({ items: [] });
  service({ "GET /api/v1/known-issues": read.waiting });
  const { unmount } = draw(<KnownIssuesPage roles={["preparer"]} />);
  expect(screen.getByRole("status", { name: "Loading known issues" })).toBeTruthy();
  read.come();
  expect(await screen.findByText("No known issues yet. A settled packet can teach one.")).toBeTruthy();
  unmount();
  service({ "GET /api/v1/known-issues": problem(503, "no-database", "The database cannot be reached.", "Wait.") });
  draw(<KnownIssuesPage roles={["preparer"]} />);
  expect((await screen.findByRole("alert")).textContent).toBe("The database cannot be reached.Wait.");
});

test("one is added by +, with everything that is not said left empty", async () => {
  service({ "PUT /api/v1/known-issues/battery": issue("battery") });
  const { user } = await open();
  await user.keyboard("+");
  const form = await screen.findByRole("dialog", { name: "A known issue" });
  await user.type(within(form).getByLabelText("Key"), "battery");
  await user.type(within(form).getByLabelText("Title"), "Battery is low");
  await user.type(within(form).getByLabelText("Pattern"), "battery [[0-9]+%");
  await user.type(within(form).getByLabelText("Models"), "BS-8, BS-9");
  await user.click(within(form).getByRole("button", { name: "Save" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(callsTo("PUT /api/v1/known-issues/battery")[0]?.body).toEqual({
    ...{ title: "Battery is low", pattern: "battery [0-9]+%", models: ["BS-8", "BS-9"], vendor: "", packet: "" },
    ...{ meaning: "", advice: "", fixed_in: "", link: "" },
  });
});

test("a pattern that cannot be read is refused in the form", async () => {
  service({ "PUT /api/v1/known-issues/fan": problem(422, "pattern", "The pattern has no end.", "Close its bracket.") });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Fan stopped" }));
  const form = await screen.findByRole("dialog", { name: "Change fan" });
  expect(within(form).getByLabelText<HTMLInputElement>("Key").disabled).toBe(true);
  expect(within(form).getByLabelText<HTMLInputElement>("Models").value).toBe("TN9, TN4");
  await user.type(within(form).getByLabelText("Pattern"), " (");
  await user.click(within(form).getByRole("button", { name: "Save" }));
  expect((await within(form).findByRole("alert")).textContent).toBe("The pattern has no end.Close its bracket.");
});

test("one is forgotten, and what cannot be forgotten says why", async () => {
  service({ "DELETE /api/v1/known-issues/fan": problem(409, "used", "A sheet uses it.", "Change the sheet.") });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Fan stopped" }));
  await user.click(await screen.findByRole("button", { name: "Forget it" }));
  expect((await screen.findByRole("alert")).textContent).toContain("A sheet uses it.");
  service({ "DELETE /api/v1/known-issues/fan": { done: true } });
  await user.click(screen.getByRole("button", { name: "Forget it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
});

test("who may not write reads, and + does nothing", async () => {
  const { user } = await open(["reader"]);
  await user.keyboard("+");
  expect(screen.queryByRole("dialog")).toBeNull();
  expect(screen.queryByRole("button", { name: "Fan stopped" })).toBeNull();
});

const ARTICLE = [
  "# First",
  "Pull the plug for *a minute*. <script>alert(1)</script>",
  "See [the manual](https://lumenlathe.example/m) or [this](javascript:alert(1)).",
  "![the label](https://elsewhere.example/label.png)",
].join("\n\n");

async function read(onWrite?: () => void) {
  service({
    "GET /api/v1/articles/dark": {
      key: "dark",
      title: "Dark screens",
      text: ARTICLE,
      by: "marit",
      written_on: "2026-11-20",
    },
  });
  const drawn = draw(<ArticleDialog name="dark" onClose={() => {}} onWrite={onWrite} />);
  await screen.findByRole("heading", { name: "First" });
  return { ...drawn, article: document.querySelector(".article") as HTMLElement };
}

test("an article is drawn, and nothing in it runs or is fetched from elsewhere", async () => {
  const { article } = await read();
  expect(article.querySelector("script, img")).toBeNull();
  const links = [...article.querySelectorAll("a")].map((one) => [one.textContent, one.getAttribute("href"), one.rel]);
  expect(links[0]).toEqual(["the manual", "https://lumenlathe.example/m", "noreferrer"]);
  expect(links[1]?.[1] ?? "").not.toContain("javascript");
  expect(links[2]).toEqual(["picture: the label", "https://elsewhere.example/label.png", "noreferrer"]);
});

test("headings of an article stand below the title of its dialog", async () => {
  await read();
  expect(screen.getByRole("heading", { name: "Dark screens", level: 2 })).toBeTruthy();
  expect(screen.getByRole("heading", { name: "First", level: 3 })).toBeTruthy();
});

test("an article is corrected or forgotten only by those who may", async () => {
  const { unmount } = await read();
  expect(screen.queryByRole("button", { name: "Forget it" })).toBeNull();
  unmount();
  service({ "DELETE /api/v1/articles/dark": { done: true } });
  const { user } = await read(() => {});
  await user.click(screen.getByRole("button", { name: "Forget it" }));
  await waitFor(() => expect(callsTo("DELETE /api/v1/articles/dark")).toHaveLength(1));
});
