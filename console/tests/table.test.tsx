// @vitest-environment happy-dom
import { screen, within } from "@testing-library/react";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import { ColumnMenu } from "../src/components/column-menu";
import { type Column, Table, toggled } from "../src/components/table";
import { draw, where } from "./drawing";

interface Thing {
  id: string;
  serial: string;
  site: string;
}

const ROWS: Thing[] = [
  { id: "one", serial: "TN9-1", site: "Book store" },
  { id: "two", serial: "TN9-2", site: "Quay Street" },
  { id: "three", serial: "TN9-3", site: "Book store" },
];

const COLUMNS: Column<Thing>[] = [
  { key: "serial", title: "Serial", sort: "serial", show: (row) => row.serial },
  { key: "site", title: "Site", show: (row) => row.site },
];

function Chosen({ href, first = [] }: { href?: (row: Thing) => string; first?: string[] }) {
  const [chosen, setChosen] = useState(new Set(first));
  return (
    <>
      <Table
        {...{ label: "Things", columns: COLUMNS, rows: ROWS, sort: "", onSort: () => {} }}
        {...{ chosen, onChoose: setChosen, href }}
      />
      <p>chosen: {[...chosen].join(" ")}</p>
    </>
  );
}

const tick = (name: string) => screen.getByRole<HTMLInputElement>("checkbox", { name });

test("a heading sorts by its column, and turns round what it sorts already", async () => {
  const onSort = vi.fn();
  const table = (sort: string) => <Table label="Things" columns={COLUMNS} rows={ROWS} sort={sort} onSort={onSort} />;
  const { user, redraw } = draw(table(""));
  const heading = () => screen.getByRole("columnheader", { name: /Serial/ });
  expect(heading().getAttribute("aria-sort")).toBe("none");
  await user.click(within(heading()).getByRole("button"));
  expect(onSort).toHaveBeenLastCalledWith("serial");
  redraw(table("serial"));
  expect(heading().getAttribute("aria-sort")).toBe("ascending");
  await user.click(within(heading()).getByRole("button"));
  expect(onSort).toHaveBeenLastCalledWith("-serial");
  redraw(table("-serial"));
  expect(heading().getAttribute("aria-sort")).toBe("descending");
  await user.click(within(heading()).getByRole("button"));
  expect(onSort).toHaveBeenLastCalledWith("serial");
});

test("a column that the service cannot sort is only named", () => {
  draw(<Table label="Things" columns={COLUMNS} rows={ROWS} sort="" onSort={() => {}} />);
  const heading = screen.getByRole("columnheader", { name: "Site" });
  expect(within(heading).queryByRole("button")).toBeNull();
  expect(heading.hasAttribute("aria-sort")).toBe(false);
});

test("rows are ticked one by one or all at once", async () => {
  const { user } = draw(<Chosen />);
  await user.click(tick("Choose row 2"));
  expect(screen.getByText("chosen: two")).toBeTruthy();
  await user.click(tick("Choose all that are shown"));
  expect(screen.getByText("chosen: one two three")).toBeTruthy();
  expect(tick("Choose all that are shown").checked).toBe(true);
  await user.click(tick("Choose row 1"));
  expect(tick("Choose all that are shown").checked).toBe(false);
  await user.click(tick("Choose all that are shown"));
  await user.click(tick("Choose all that are shown"));
  expect(screen.getByText("chosen:")).toBeTruthy();
});

test("X ticks the row that has the focus, and none without one", async () => {
  const { user } = draw(<Chosen href={(row) => `/things/${row.id}`} />);
  await user.keyboard("x");
  expect(screen.getByText("chosen:")).toBeTruthy();
  screen.getByRole("link", { name: "TN9-1" }).focus();
  await user.keyboard("{ArrowDown}{ArrowDown}x{ArrowUp}x");
  expect(screen.getByText("chosen: three two")).toBeTruthy();
  await user.keyboard("x");
  expect(screen.getByText("chosen: three")).toBeTruthy();
});

test("arrows stop at both ends of a table, and Enter opens a row", async () => {
  const { user } = draw(<Chosen href={(row) => `/things/${row.id}`} />);
  const [first, , last] = screen.getAllByRole("link");
  first?.focus();
  await user.keyboard("{ArrowUp}");
  expect(document.activeElement).toBe(first);
  await user.keyboard("{ArrowDown}{ArrowDown}{ArrowDown}");
  expect(document.activeElement).toBe(last);
  await user.keyboard("{Enter}");
  expect(where()).toBe("/things/three");
});

test("where rows have no page, their ticks are what the arrows move through", async () => {
  const { user } = draw(<Chosen />);
  tick("Choose row 1").focus();
  await user.keyboard("{ArrowDown}x");
  expect(document.activeElement).toBe(tick("Choose row 2"));
  expect(screen.getByText("chosen: two")).toBeTruthy();
});

test("nobody who may not act sees ticks, and X does nothing", async () => {
  const { user } = draw(
    <Table label="Things" columns={COLUMNS} rows={ROWS} sort="" onSort={() => {}} href={(row) => `/${row.id}`} />,
  );
  screen.getByRole("link", { name: "TN9-1" }).focus();
  await user.keyboard("x");
  expect(screen.queryAllByRole("checkbox")).toEqual([]);
});

test("what is toggled twice is as before, and the set that was given stays", () => {
  const before: ReadonlySet<number> = new Set([1, 2]);
  expect([...toggled(before, 3)]).toEqual([1, 2, 3]);
  expect([...toggled(before, 1)]).toEqual([2]);
  expect([...toggled(toggled(before, 1), 1)].sort()).toEqual([1, 2]);
  expect([...before]).toEqual([1, 2]);
});

test("columns come and go by a menu, in their own order, and the first one stays", async () => {
  const onChange = vi.fn();
  const columns = [...COLUMNS, { key: "notes", title: "Notes", show: () => "" }];
  const { user } = draw(<ColumnMenu columns={columns} shown={["serial", "notes"]} onChange={onChange} />);
  await user.click(screen.getByRole("button", { name: "Columns" }));
  const items = screen.getAllByRole("menuitemcheckbox");
  expect(items.map((one) => one.getAttribute("aria-checked"))).toEqual(["true", "false", "true"]);
  expect(items[0]?.getAttribute("aria-disabled")).toBe("true");
  await user.click(screen.getByRole("menuitemcheckbox", { name: "Site" }));
  expect(onChange).toHaveBeenLastCalledWith(["serial", "site", "notes"]);
  await user.click(screen.getByRole("menuitemcheckbox", { name: /Notes/ }));
  expect(onChange).toHaveBeenLastCalledWith(["serial"]);
});
