import { fieldsOf } from "../../records/reading";
import type { Mark } from "./PageOverlay";
import { spotOf, type WorkDocument } from "./work";

/** Every value that stands on a page, as a box with the name of its field; findings are stronger. */
export function marksOf({ reading, findings }: WorkDocument): Mark[] {
  const marks: Mark[] = [];
  const add = (name: string, field: Parameters<typeof spotOf>[0], look: Mark["look"] = "read") => {
    const spot = spotOf(field);
    if (spot) marks.push({ ...spot, name, look });
  };
  for (const finding of findings) {
    const name = finding.fields[0] ?? "";
    const look = finding.weight === "block" ? "block" : "warn";
    if (finding.weight !== "note") add(name, finding.box ? finding : reading.fields[name], look);
  }
  for (const { name } of fieldsOf(reading)) add(name, reading.fields[name]);
  for (const table of ["lines", "tax_lines"] as const) {
    reading[table].forEach((row, at) => {
      for (const [cell, field] of Object.entries(row)) add(`${table}[${at + 1}].${cell}`, field);
    });
  }
  return marks;
}
