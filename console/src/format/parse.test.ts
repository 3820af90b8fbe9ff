import { describe, expect, it } from "vitest";
import { parse, type FieldType, type Habit } from "./parse";

const english: Habit = { language: "en", currency: "GBP" };
const german: Habit = { language: "de", currency: "EUR" };

function value(type: FieldType, text: string, habit = english): string {
  const parsed = parse(type, text, habit);
  return "value" in parsed ? parsed.value : `wrong: ${parsed.wrong}`;
}

describe("amounts", () => {
  it.each([
    ["1421.28", "1421.28"],
    ["1,421.28", "1421.28"],
    ["1.421,28", "1421.28"],
    ["£1,421.28", "1421.28"],
    ["1421.28 GBP", "1421.28"],
    ["1 421,28", "1421.28"],
    ["1'421.28", "1421.28"],
    ["(12.00)", "-12.00"],
    ["12.00-", "-12.00"],
    ["\u221212,5", "-12.50"],
    ["1,421", "1421.00"],
    ["1,234,567.80", "1234567.80"],
    ["0.50", "0.50"],
    ["60", "60.00"],
  ])("reads %s as %s", (text, wanted) => expect(value("money", text)).toBe(wanted));

  it("takes one mark before three digits as the document writes", () => {
    expect(value("money", "1.421", german)).toBe("1421.00");
    expect(value("number", "1,421", german)).toBe("1.421");
    expect(value("number", "1,421", english)).toBe("1421");
    expect(value("number", "0.125", german)).toBe("0.125");
  });

  it.each(["1.42.1", "12,34,5", "abc", "1.2,3.4", "--4", "(5", "5.", "1,23.456,7"])(
    "refuses %s",
    (text) => expect(value("money", text)).toMatch(/^wrong/),
  );

  it("refuses another currency, decimals the currency does not have, and none at all", () => {
    expect(value("money", "12.00 EUR")).toContain("is in EUR");
    expect(value("money", "12.345,1")).toBe("12345.10");
    expect(value("money", "1.2345")).toContain("more than 2 decimals");
    expect(value("money", "500.5", { language: "en", currency: "JPY" })).toContain("0 decimals");
    expect(value("money", "5", { language: "en", currency: "" })).toContain("currency first");
  });
});

describe("dates", () => {
  it.each([
    ["2026-03-31", "2026-03-31"],
    ["31.3.2026", "2026-03-31"],
    ["31/03/26", "2026-03-31"],
    ["03/31/2026", "2026-03-31"],
    ["31 Mar 2026", "2026-03-31"],
    ["31. März 2026", "2026-03-31"],
    ["March 31, 2026", "2026-03-31"],
    ["5 Nov 2026", "2026-11-05"],
    ["29.02.2028", "2028-02-29"],
  ])("reads %s as %s", (text, wanted) => expect(value("date", text)).toBe(wanted));

  it.each(["31.2.2026", "2026-13-40", "yesterday", "29.02.2027", "5 Foo 2026", "1.1.1850"])(
    "refuses %s",
    (text) => expect(value("date", text)).toMatch(/^wrong/),
  );
});

it("reads rates, currencies and texts", () => {
  expect(value("rate", "19 %", german)).toBe("19");
  expect(value("rate", "7,5%", german)).toBe("7.5");
  expect(value("currency", "eur")).toBe("EUR");
  expect(value("currency", "€")).toBe("EUR");
  expect(value("currency", "pounds")).toMatch(/^wrong/);
  expect(value("text", "  SG/10442   b ")).toBe("SG/10442 b");
  expect(value("text", " ")).toMatch(/^wrong/);
});
