import { expect, it } from "vitest";
import { typedForm, type ReadField, type Reading } from "../../records/reading";
import { changesOf, NONE, start, step, tableOf, tidied, understood, withField, type Edits } from "./edits";

const habit = { language: "en", currency: "GBP" };
function field(value: unknown): ReadField {
  return { value, text: "", page: 1, box: [0, 0, 9, 9], confidence: 1, origin: "text", others: [] };
}
const reading: Reading = {
  document: { sha256: "", name: "", path: "", media_type: "", pages: [1], kind: "invoice", language: "en", confidence: 1 },
  fields: { number: field("SG/1"), gross_total: field({ amount: "12.00", currency: "GBP" }) },
  lines: [{ description: field("Salt"), unit_price: field("31.900000"), amount: field({ amount: "12.00", currency: "GBP" }) }],
  tax_lines: [],
  findings: [],
};

it("sends what changed, typed, with the spot it was taken from", () => {
  const spot = { page: 1, box: [1, 2, 3, 4] as [number, number, number, number], text: "£14.50" };
  let edits = withField(NONE, "gross_total", { text: "£14.50", spot });
  edits = withField(edits, "number", null);
  const { changes, wrong } = changesOf(edits, reading, habit);
  expect(wrong).toEqual({});
  expect(changes.fields).toEqual({
    gross_total: { value: { amount: "14.50", currency: "GBP" }, page: 1, box: [1, 2, 3, 4], text: "£14.50" },
    number: null,
  });
});

it("names each value that cannot be read by its path", () => {
  const rows = tableOf(NONE, reading, "lines", habit);
  rows.forEach((row) => (row.cells.amount = { text: "twelve" }));
  const edits: Edits = { ...withField(NONE, "due_date", { text: "soon" }), lines: rows };
  expect(Object.keys(changesOf(edits, reading, habit).wrong)).toEqual(["fields.due_date", "lines[1].amount"]);
});

it("keeps untouched cells to the last digit and says which line they were", () => {
  const rows = tableOf(NONE, reading, "lines", habit);
  rows.forEach((row) => (row.cells.quantity = { text: "2" }));
  const { changes } = changesOf({ fields: {}, lines: [...rows, { was: null, cells: {} }] }, reading, habit);
  expect(changes.lines).toEqual([
    { was: 1, description: "Salt", unit_price: "31.900000", amount: { amount: "12.00", currency: "GBP" }, quantity: "2" },
  ]);
});

it("undoes and redoes step by step, typing in one field being one step", () => {
  let history = start();
  const type = (text: string) => step(history, { do: "change", mark: "number", change: (now) => withField(now, "number", { text }) });
  history = type("S");
  history = type("SG");
  history = step(history, { do: "change", mark: "kind", change: (now) => ({ ...now, kind: "credit note" }) });
  history = step(history, { do: "undo" });
  expect(history.now).toEqual({ fields: { number: { text: "SG" } } });
  history = step(history, { do: "undo" });
  expect(history.now).toEqual(NONE);
  history = step(step(history, { do: "redo" }), { do: "redo" });
  expect(history.now.kind).toBe("credit note");
});

it("reads back what it shows, in German as in English", () => {
  const quantity = { name: "quantity", type: "number" as const };
  for (const language of ["en", "de"]) {
    for (const value of ["1421", "1.421", "0.125", "1421.28", "1234567.5", "-3"]) {
      const spoken = { language, currency: "EUR" };
      const { text } = tidied(quantity, { text: typedForm(quantity, value, spoken) }, spoken);
      expect(understood("number", { text }, spoken)).toEqual({ value });
    }
  }
});
