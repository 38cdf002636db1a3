import { expect, test, vi } from "vitest";
import { dayAfter, daysTo, sayDay, sayDue, sayMoment, sayWait } from "../src/format/dates";
import { count, sayMoney, saySize, toMajor, toMinor } from "../src/format/numbers";

test.each([
  [0, "0 B"],
  [999, "999 B"],
  [1000, "1.0 kB"],
  [15_400, "15 kB"],
  [3_000_000, "3.0 MB"],
  [2_147_483_648, "2.15 GB"],
  [null, ""],
])("%s bytes are %s", (bytes, words) => {
  expect(saySize(bytes)).toBe(words);
});

test.each([
  [1_184_000, "GBP", "11,840.00 GBP"],
  [5_000, "JPY", "5,000 JPY"],
  [1_250, "KWD", "1.250 KWD"],
  [null, "GBP", ""],
  [100, null, ""],
])("%s minor units of %s are %s", (minor, currency, words) => {
  expect(sayMoney(minor, currency)).toBe(words);
});

test.each([
  ["11840.5", "GBP", 1_184_050],
  ["0.29", "GBP", 29],
  ["5000", "JPY", 5000],
])("%s typed in %s are %s minor units", (typed, currency, minor) => {
  expect(toMinor(typed, currency)).toBe(minor);
  expect(Number(toMajor(minor, currency))).toBe(Number(typed));
});

test("what is no number is NaN and not zero", () => {
  expect(toMinor("about 5", "GBP")).toBeNaN();
});

test("one is singular, others are not", () => {
  expect([count(1, "file"), count(0, "file"), count(1200, "box", "boxes")]).toEqual([
    "1 file",
    "0 files",
    "1,200 boxes",
  ]);
});

test("days are counted from today, whatever the hour", () => {
  vi.useFakeTimers({ now: new Date("2026-11-28T23:30:00Z") });
  expect([daysTo("2026-11-28"), daysTo("2026-12-01"), daysTo("2026-11-16")]).toEqual([0, 3, -12]);
  vi.useRealTimers();
});

test("days and moments read as people write them", () => {
  expect(sayDay("2026-11-28")).toBe("28 Nov 2026");
  expect(sayMoment("2026-11-28T14:05:00+00:00")).toMatch(/^28 Nov, \d\d:05$/);
  expect(sayMoment(null)).toBe("");
  expect(dayAfter("2026-12-31")).toBe("2027-01-01");
});

test("waits and due times are said shortly", () => {
  const at = Date.parse("2026-11-28T12:00:00");
  const after = (hours: number) => new Date(at + hours * 3_600_000).toISOString();
  expect([0.1, 5, 47, 100].map((hours) => sayWait(after(-hours), at))).toEqual(["6 min", "5 h", "47 h", "4 d"]);
  expect(sayDue(after(-3), at)).toBe("overdue for 3 h");
  expect(sayDue(after(2), at)).toBe("due 14:00");
  expect(sayDue(after(22), at)).toBe("due tomorrow 10:00");
  expect(sayDue(after(72), at)).toMatch(/^due 1 Dec, 12:00$/);
});
