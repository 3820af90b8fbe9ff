/** What a person types of the codes of lines, before it is kept. */
import type { Schemas } from "../../api/client";

export const DIMENSIONS = ["gl_account", "cost_centre", "tax_code", "project"] as const;
export type Dimension = (typeof DIMENSIONS)[number];
export type Codes = Partial<Record<Dimension, string>>;

/** How much a share is, as typed: `60 %`, `120.00`, or nothing for what is left. */
export interface Share {
  how: string;
  codes: Codes;
}

export interface Draft {
  codes: Codes;
  shares: Share[];
}

type Line = Schemas["CodedLine"];
type Said = Schemas["LineCodesRequest"];

function byHand(part: Line["parts"][number] | undefined): Codes {
  return Object.fromEntries(DIMENSIONS.flatMap((name) => (part?.[name]?.source === "person" ? [[name, part[name].code]] : [])));
}

/** What a person has said of a line already. A split of theirs is told by its amounts. */
export function draftOf(line: Line): Draft {
  const split = line.parts.length > 1 && line.parts.some((part) => Object.keys(byHand(part)).length);
  return split ? { codes: {}, shares: line.parts.map((part) => ({ how: part.amount, codes: byHand(part) })) } : { codes: byHand(line.parts[0]), shares: [] };
}

/** A line in two, or one share more; the last one is what is left. */
export function splitOf(draft: Draft, line: Line): Draft {
  if (draft.shares.length) return { ...draft, shares: [...draft.shares.map((each, at) => (at === draft.shares.length - 1 && !each.how ? { ...each, how: "0 %" } : each)), { how: "", codes: {} }] };
  const codes: Codes = Object.fromEntries(DIMENSIONS.flatMap((name) => (line.parts[0]?.[name] ? [[name, line.parts[0][name].code]] : [])));
  Object.assign(codes, draft.codes);
  return { codes: {}, shares: [{ how: "50 %", codes }, { how: "", codes }] };
}

export function withoutShare(draft: Draft, at: number): Draft {
  const shares = draft.shares.toSpliced(at, 1);
  return shares.length > 1 ? { ...draft, shares } : { codes: shares[0]?.codes ?? {}, shares: [] };
}

function said({ codes, shares }: Draft): Said | null {
  const told = (each: Codes) => Object.fromEntries(Object.entries(each).map(([name, code]) => [name, code.trim()]).filter(([, code]) => code));
  const own = told(codes);
  if (!shares.length && !Object.keys(own).length) return null;
  return {
    ...own,
    ...(shares.length
      ? {
          shares: shares.map(({ how, codes: of }) => {
            const number = how.replace("%", "").replace(/,/g, "").trim();
            return { ...told(of), ...(!number ? {} : how.includes("%") ? { percent: number } : { amount: number }) };
          }),
        }
      : {}),
  };
}

/** By number the lines that were changed, as the service takes them; null takes back what was said. */
export function changedLines(lines: readonly Line[], typed: Record<string, Draft>): Record<string, Said | null> {
  const changed: Record<string, Said | null> = {};
  for (const line of lines) {
    const draft = typed[line.key];
    if (draft && JSON.stringify(said(draft)) !== JSON.stringify(said(draftOf(line)))) changed[line.key] = said(draft);
  }
  return changed;
}

/** A line as people call it in the name of a field. */
export function calledLine(line: { line: number; key: string }): string {
  return line.line > 0 ? `line ${line.line}` : line.line ? line.key : "the bill";
}
