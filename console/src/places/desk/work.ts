/** What the parts of the work screen share. */
import { createContext, useContext } from "react";
import type { Schemas } from "../../api/client";
import type { Habit } from "../../format/parse";
import type { Reading } from "../../records/reading";
import type { Edits, Step, Table, Typed, Wrong } from "./edits";

export type WorkDocument = Schemas["Document"];
export type Box = [number, number, number, number];

/** A spot to show on the page. */
export interface Shown {
  page: number;
  box: Box;
}

/** Where a value taken from the page goes. */
export type Target = { field: string } | { table: Table; row: number; cell: string };

export interface Work {
  document: WorkDocument;
  reading: Reading;
  edits: Edits;
  habit: Habit;
  wrong: Wrong;
  editable: boolean;
  dispatch: (step: Step) => void;
  setField: (name: string, typed: Typed | null, mark?: string) => void;
  aim: (target: Target | null) => void;
  show: (spot: Shown | null) => void;
  forget: (path: string) => void;
}

export const WorkContext = createContext<Work | null>(null);

export function useWork(): Work {
  const work = useContext(WorkContext);
  if (!work) throw new Error("no document is worked on");
  return work;
}

export function spotOf(field: { page?: number | null; box?: number[] | null } | undefined): Shown | null {
  if (!field?.page || field.box?.length !== 4) return null;
  return { page: field.page, box: field.box as Box };
}

/** Goes to a field by its path in findings and problems: `gross_total`, `lines[2].amount`. */
export function focusPath(path: string): boolean {
  const bare = path.replace(/^fields\./, "");
  const line = /^(lines|tax_lines)\[(\d+)\](?:\.(.+))?$/.exec(bare);
  const id = line ? `${line[1]}-${Number(line[2]) - 1}-${line[3] ?? "amount"}` : `field-${bare}`;
  const found = document.getElementById(id);
  if (!(found instanceof HTMLElement)) return false;
  found.focus();
  if (found instanceof HTMLInputElement) found.select();
  found.scrollIntoView({ block: "nearest" });
  return true;
}
