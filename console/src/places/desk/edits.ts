/** What a person has changed and not saved yet, with every step undoable. */
import { parse, type FieldType, type Habit, type Parsed } from "../../format/parse";
import { LINE_CELLS, TAX_CELLS, type FieldSpec } from "../../records/fields.generated";
import { plain, specOf, typedForm, type ReadField, type Reading, type Row } from "../../records/reading";

/** Where on a page a value was taken from. */
export interface Spot {
  page: number;
  box: [number, number, number, number];
  text: string;
}

/** A value as it was typed or taken. */
export interface Typed {
  text: string;
  /** Its canonical text, once it was understood. */
  value?: string;
  spot?: Spot;
}

export interface LineEdit {
  /** The line of the reading that this was, from 1. */
  was: number | null;
  cells: Record<string, Typed>;
}

export type Table = "lines" | "tax_lines";

export interface Edits {
  kind?: string;
  /** By field name; null takes the field out. */
  fields: Record<string, Typed | null>;
  lines?: LineEdit[];
  tax_lines?: LineEdit[];
}

export const NONE: Edits = { fields: {} };
export const SPECS: Record<Table, FieldSpec[]> = { lines: LINE_CELLS, tax_lines: TAX_CELLS };

export interface History {
  past: Edits[];
  now: Edits;
  future: Edits[];
  /** What the last step changed: typing on in one field is one step. */
  mark: string;
}

export type Step =
  | { do: "change"; mark: string; change: (now: Edits) => Edits }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "reset"; to?: Edits };

export function start(edits: Edits = NONE): History {
  return { past: [], now: edits, future: [], mark: "" };
}

export function step(history: History, next: Step): History {
  switch (next.do) {
    case "change": {
      const now = next.change(history.now);
      if (next.mark && next.mark === history.mark) return { ...history, now, future: [] };
      return { past: [...history.past.slice(-199), history.now], now, future: [], mark: next.mark };
    }
    case "undo": {
      const before = history.past.at(-1);
      if (!before) return history;
      return { past: history.past.slice(0, -1), now: before, future: [history.now, ...history.future], mark: "" };
    }
    case "redo": {
      const [after, ...future] = history.future;
      if (!after) return history;
      return { past: [...history.past, history.now], now: after, future, mark: "" };
    }
    case "reset":
      return start(next.to);
  }
}

export function withField(edits: Edits, name: string, typed: Typed | null | undefined): Edits {
  const { [name]: before, ...others } = edits.fields;
  if (typed === undefined) return before === undefined ? edits : { ...edits, fields: others };
  return { ...edits, fields: { ...others, [name]: typed } };
}

export function withKind(edits: Edits, kind: string | undefined): Edits {
  const next: Edits = { ...edits };
  if (kind === undefined) delete next.kind;
  else next.kind = kind;
  return next;
}

/** The same edits, their lines no longer bound to lines that were read. */
export function loosened(edits: Edits): Edits {
  const next: Edits = { ...edits };
  for (const table of ["lines", "tax_lines"] as const) {
    const rows = edits[table];
    if (rows) next[table] = rows.map((row) => ({ ...row, was: null }));
  }
  return next;
}

/** The table as it stands: edited, or as it was read. */
export function tableOf(edits: Edits, reading: Reading, table: Table, habit: Habit): LineEdit[] {
  return edits[table] ?? reading[table].map((row, at) => ({ was: at + 1, cells: cellsOf(row, SPECS[table], habit) }));
}

function cellsOf(row: Row, specs: FieldSpec[], habit: Habit): Record<string, Typed> {
  return Object.fromEntries(
    specs.flatMap((spec) => {
      const cell = row[spec.name];
      return cell ? [[spec.name, { text: typedForm(spec, cell.value, habit), value: plain(cell.value) }]] : [];
    }),
  );
}

export function isEmpty(edits: Edits): boolean {
  return !edits.kind && Object.keys(edits.fields).length === 0 && !edits.lines && !edits.tax_lines;
}

/** How many values differ from what was read. */
export function countOf(edits: Edits): number {
  return Object.keys(edits.fields).length + (edits.kind ? 1 : 0) + (edits.lines ? 1 : 0) + (edits.tax_lines ? 1 : 0);
}

export interface Changes {
  kind?: string;
  fields?: Record<string, unknown>;
  lines?: Record<string, unknown>[];
  tax_lines?: Record<string, unknown>[];
}

/** By the path of a value, as the service names it: `fields.number`, `lines[2].amount`. */
export type Wrong = Record<string, string>;

/** The edits as the service takes them, or what is wrong with each value. */
export function changesOf(edits: Edits, reading: Reading, habit: Habit): { changes: Changes; wrong: Wrong } {
  const wrong: Wrong = {};
  const changes: Changes = {};
  if (edits.kind) changes.kind = edits.kind;
  const fields: Record<string, unknown> = {};
  for (const [name, typed] of Object.entries(edits.fields)) {
    if (typed === null || !typed.text.trim()) {
      if (reading.fields[name]) fields[name] = null;
      continue;
    }
    const value = valueOf(specOf(name, reading).type, typed, reading.fields[name], habit, `fields.${name}`, wrong);
    if (value !== undefined) fields[name] = value;
  }
  if (Object.keys(fields).length) changes.fields = fields;
  for (const table of ["lines", "tax_lines"] as const) {
    const rows = edits[table];
    if (!rows) continue;
    const full = rows.filter((row) => Object.values(row.cells).some((cell) => cell.text.trim()));
    changes[table] = full.map((row, at) => rowOf(row, table, reading, habit, `${table}[${at + 1}]`, wrong));
  }
  return { changes, wrong };
}

function rowOf(row: LineEdit, table: Table, reading: Reading, habit: Habit, path: string, wrong: Wrong): Record<string, unknown> {
  const before = row.was === null ? undefined : reading[table][row.was - 1];
  const cells: Record<string, unknown> = before && row.was !== null ? { was: row.was } : {};
  for (const { name, type } of SPECS[table]) {
    const typed = row.cells[name];
    if (!typed?.text.trim()) continue;
    const value = valueOf(type, typed, before?.[name], habit, `${path}.${name}`, wrong);
    if (value !== undefined) cells[name] = value;
  }
  return cells;
}

function valueOf(type: FieldType, typed: Typed, before: ReadField | undefined, habit: Habit, path: string, wrong: Wrong): unknown {
  // Untouched text stands for the value that was read, to the last digit.
  if (before && typed.value === plain(before.value)) {
    return typed.spot ? placed(before.value, typed.spot) : before.value;
  }
  const parsed = understood(type, typed, habit);
  if ("wrong" in parsed) {
    wrong[path] = parsed.wrong;
    return undefined;
  }
  const value = type === "money" ? { amount: parsed.value, currency: habit.currency } : parsed.value;
  return typed.spot ? placed(value, typed.spot) : value;
}

/** What a typed value means; text that was understood before keeps its meaning. */
export function understood(type: FieldType, typed: Typed, habit: Habit): Parsed {
  return typed.value === undefined ? parse(type, typed.text, habit) : { value: typed.value };
}

/** The typed value in the form that the document writes, once it is understood. */
export function tidied(spec: Pick<FieldSpec, "name" | "type">, typed: Typed, habit: Habit): Typed {
  if (typed.value !== undefined) return typed;
  const parsed = parse(spec.type, typed.text, habit);
  if ("wrong" in parsed) return typed;
  return { ...typed, text: typedForm(spec, parsed.value, habit), value: parsed.value };
}

function placed(value: unknown, spot: Spot): unknown {
  return { value, page: spot.page, box: spot.box, text: spot.text };
}

/** The canonical text of a field as it stands now; undefined where nothing or nonsense stands. */
export function standing(edits: Edits, reading: Reading, name: string, habit: Habit): string | undefined {
  const typed = edits.fields[name];
  if (typed === undefined) return plain(reading.fields[name]?.value) || undefined;
  if (typed === null) return undefined;
  const parsed = understood(specOf(name, reading).type, typed, habit);
  return "value" in parsed ? parsed.value : undefined;
}

/** The canonical text of a cell as it stands now. */
export function cellStanding(row: LineEdit, table: Table, name: string, habit: Habit): string | undefined {
  const typed = row.cells[name];
  if (!typed?.text.trim()) return undefined;
  const spec = SPECS[table].find((each) => each.name === name);
  if (!spec) return undefined;
  const parsed = understood(spec.type, typed, habit);
  return "value" in parsed ? parsed.value : undefined;
}
