/** What was read of a document, as the console shows and compares it. */
import type { Schemas } from "../api/client";
import { amount, day, price, quantity } from "../format/show";
import { inHabit, type FieldType, type Habit } from "../format/parse";
import { FIELDS, LINE_CELLS, TAX_CELLS, type FieldSpec } from "./fields.generated";

export type Reading = Schemas["Reading"];
export type ReadField = Schemas["ReadField"];
export type Row = Record<string, ReadField>;

const SPECS = new Map(FIELDS.map((spec) => [spec.name, spec]));

/** What a field is; those that a pipeline declares are told by the reading. */
export function specOf(name: string, reading?: Reading): FieldSpec {
  return SPECS.get(name) ?? declared(name, reading) ?? { name, type: "text", title: name, term: "" };
}

function declared(name: string, reading: Reading | undefined): FieldSpec | undefined {
  const spec = reading?.extra_fields?.[name];
  if (!spec) return undefined;
  const title = spec.unit ? `${spec.title} (${spec.unit})` : spec.title;
  return { name, type: spec.type as FieldType, title, term: "", choices: spec.choices, unit: spec.unit };
}

/** The catalogue's fields and those that the document's pipeline declares. */
export function fieldsOf(reading: Reading): FieldSpec[] {
  return [...FIELDS, ...Object.keys(reading.extra_fields ?? {}).map((name) => specOf(name, reading))];
}

/** A value's canonical text: the amount of money, the ISO date, the number. */
export function plain(value: unknown): string {
  if (value === null || value === undefined) return "";
  if (typeof value === "object" && "amount" in value) return String(value.amount);
  return String(value);
}

/** A value as people read it, and as they may type it back. */
export function shown(spec: Pick<FieldSpec, "name" | "type">, value: unknown, currency: string): string {
  const text = plain(value);
  if (!text) return "";
  switch (spec.type) {
    case "money": {
      const own = typeof value === "object" && value !== null && "currency" in value ? String(value.currency) : currency;
      return amount(text, own);
    }
    case "date":
      return day(text);
    case "number":
      return spec.name === "unit_price" ? price(text, currency || "EUR") : quantity(text);
    case "rate":
      return quantity(text);
    default:
      return text;
  }
}

/** A value as it stands in a field to type into: written as the document itself writes. */
export function typedForm(spec: Pick<FieldSpec, "name" | "type">, value: unknown, habit: Habit): string {
  const { type } = spec;
  const text = shown(spec, value, habit.currency);
  return type === "money" || type === "number" || type === "rate" ? inHabit(text, habit) : text;
}

export function currencyOf(reading: Reading): string {
  return plain(reading.fields.currency?.value);
}

export interface Difference {
  title: string;
  before: string;
  after: string;
}

/** What one version of a reading says otherwise than another, value by value. */
export function differences(before: Reading, after: Reading): Difference[] {
  const found: Difference[] = [];
  const add = (title: string, old: string, now: string) => {
    if (old !== now) found.push({ title, before: old, after: now });
  };
  add("Kind", before.document.kind, after.document.kind);
  for (const spec of fieldsOf({ ...before, extra_fields: { ...before.extra_fields, ...after.extra_fields } })) add(spec.title, valueOf(before.fields, spec, before), valueOf(after.fields, spec, after));
  rowsOf("Line", LINE_CELLS, before, after, before.lines, after.lines, add);
  rowsOf("Tax line", TAX_CELLS, before, after, before.tax_lines, after.tax_lines, add);
  return found;
}

function valueOf(cells: Row | undefined, spec: FieldSpec, reading: Reading): string {
  return shown(spec, cells?.[spec.name]?.value, currencyOf(reading));
}

type Add = (title: string, before: string, after: string) => void;

function rowsOf(name: string, specs: FieldSpec[], before: Reading, after: Reading, old: Row[], now: Row[], add: Add): void {
  for (let at = 0; at < Math.max(old.length, now.length); at += 1) {
    for (const spec of specs) {
      add(`${name} ${at + 1}, ${spec.title.toLowerCase()}`, valueOf(old[at], spec, before), valueOf(now[at], spec, after));
    }
  }
}

/** The field's name that a finding speaks of, without the number of a line. */
export function fieldOfFinding(finding: Schemas["Finding"]): string | undefined {
  return finding.fields[0];
}
