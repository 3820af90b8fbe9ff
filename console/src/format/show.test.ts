import { expect, it } from "vitest";
import { actor, age, amount, counted, day, moment, percent, price, quantity, size, span } from "./show";

it("writes amounts exactly, with the currency's digits", () => {
  expect(amount("1421.28", "GBP")).toBe("1,421.28");
  expect(amount("1148.4000", "GBP")).toBe("1,148.40");
  expect(amount("-60", "EUR")).toBe("\u221260.00");
  expect(amount("1234567", "JPY")).toBe("1,234,567");
  expect(amount("99999999999999.99", "EUR")).toBe("99,999,999,999,999.99");
  expect(amount("5", "XXQ!")).toBe("5.00");
});

it("leaves out zeros that say nothing", () => {
  expect(quantity("30.000000")).toBe("30");
  expect(quantity("0.125000")).toBe("0.125");
  expect(price("31.900000", "GBP")).toBe("31.90");
  expect(price("0.0355", "GBP")).toBe("0.0355");
});

it("writes days so that nobody takes one for a month", () => {
  expect(day("2026-03-04")).toBe("4 Mar 2026");
  expect(day("no day")).toBe("no day");
});

it("writes moments with as much day as is needed", () => {
  const now = new Date(2026, 10, 23, 15, 0);
  expect(moment(new Date(2026, 10, 23, 9, 5).toISOString(), now)).toBe("09:05");
  expect(moment(new Date(2026, 10, 20, 9, 5).toISOString(), now)).toBe("20 Nov, 09:05");
  expect(moment(new Date(2025, 10, 20, 9, 5).toISOString(), now)).toBe("20 Nov 2025, 09:05");
});

it("says ages and spans in one unit", () => {
  expect(span(0.44)).toBe("0.4 s");
  expect(span(59)).toBe("59 s");
  expect(span(3599)).toBe("59 min");
  expect(span(7200)).toBe("2 h");
  expect(span(3 * 86400)).toBe("3 days");
  expect(age("2026-11-23T10:00:00Z", Date.parse("2026-11-23T10:00:00Z"))).toBe("0 s");
});

it("counts, shares and sizes", () => {
  expect(counted(1, "mail")).toBe("1 mail");
  expect(counted(1200, "entry", "entries")).toBe("1,200 entries");
  expect(percent(199, 200)).toBe("99 %");
  expect(percent(0, 0)).toBe("none yet");
  expect(size(900)).toBe("900 bytes");
  expect(size(2310)).toBe("2.3 kB");
  expect(size(48_000_000)).toBe("48 MB");
  expect(actor("person:ada")).toBe("ada");
  expect(actor("system:check")).toBe("Veridox (check)");
});
