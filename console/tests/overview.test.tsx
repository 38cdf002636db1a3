// @vitest-environment happy-dom
import { screen, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { OverviewPage } from "../src/pages/overview/page";
import { draw, where } from "./drawing";
import { callsTo, service } from "./service";

const number = (name: string, value: number | null, packets = "", unit = "packets") => ({ name, value, packets, unit });

beforeEach(() => {
  service({
    "GET /api/v1/vendors": { items: [{ key: "tarnfell", name: "Tarnfell Storage" }], next: null },
    "GET /api/v1/sites": { items: [], next: null },
    "GET /api/v1/overview": {
      ...{ since: "2025-12-01", until: "2026-12-01" },
      parts: [
        {
          part: "promises",
          rows: [
            {
              ...{ name: "Tarnfell Storage, 2", remark: "" },
              numbers: [
                number("first answer in time", 75, "vendor=tarnfell&course=answer_kept", "%"),
                number("first answer after", null, "", "hours"),
              ],
            },
          ],
        },
        { part: "ratings", rows: [] },
      ],
    },
  });
});

test("every number leads to its packets", async () => {
  const { user } = draw(<OverviewPage />, "/overview");
  const row = await screen.findByRole("row", { name: /Tarnfell Storage, 2/ });
  expect(within(row).getByText("–")).toBeTruthy();
  await user.click(within(row).getByRole("link", { name: "75 %" }));
  expect(where()).toBe("/packets?vendor=tarnfell&course=answer_kept");
});

test("a part without rows says so, and the file has the same limits", async () => {
  const { user } = draw(<OverviewPage />, "/overview");
  expect(await screen.findByText("Nothing in this period.")).toBeTruthy();
  await user.selectOptions(await screen.findByRole("combobox", { name: "Vendor" }), "tarnfell");
  expect(screen.getByRole("link", { name: "CSV" }).getAttribute("href")).toMatch(/form=csv&since=.*&vendor=tarnfell$/);
  expect(callsTo("GET /api/v1/overview").at(-1)?.query.vendor).toBe("tarnfell");
});
