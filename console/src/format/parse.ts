/** What people type, or take from a page, as typed values. Nothing is guessed silently. */
import Big from "big.js";
import { minorDigits } from "./show";

export type FieldType = "text" | "date" | "money" | "number" | "rate" | "currency" | "choice";

/** Either the canonical text of a value (`1421.28`, `2026-03-31`) or what is wrong with it. */
export type Parsed = { value: string } | { wrong: string };

/** How the document at hand writes things. */
export interface Habit {
  /** ISO 639-1; English writes 1,234.56 and most others 1.234,56. */
  language: string;
  /** ISO 4217, may be empty. */
  currency: string;
}

/** Whether a document of this language writes 1,234.56; most others write 1.234,56. */
export function writesPoint(language: string): boolean {
  return ["en", "zh", "ja", "ko", ""].includes(language);
}

/** A number written the console's way, as the document at hand writes it: what `parse` reads back. */
export function inHabit(text: string, habit: Habit): string {
  const plain = text.replace("\u2212", "-");
  if (writesPoint(habit.language)) return plain;
  return plain.replace(/[.,]/g, (mark) => (mark === "." ? "," : "."));
}

const MONTHS: Record<string, number> = {
  jan: 1, januar: 1, january: 1, feb: 2, februar: 2, february: 2, mar: 3, march: 3, mär: 3,
  märz: 3, mrz: 3, apr: 4, april: 4, may: 5, mai: 5, jun: 6, june: 6, juni: 6, jul: 7, july: 7,
  juli: 7, aug: 8, august: 8, sep: 9, sept: 9, september: 9, oct: 10, october: 10, okt: 10,
  oktober: 10, nov: 11, november: 11, dec: 12, december: 12, dez: 12, dezember: 12,
};

export function parse(type: FieldType, text: string, habit: Habit): Parsed {
  const typed = text.trim();
  if (!typed) return { wrong: "is empty" };
  switch (type) {
    case "date":
      return parseDate(typed);
    case "money":
      return parseMoney(typed, habit);
    case "number":
      return parseNumber(typed, habit);
    case "rate":
      return parseNumber(typed.replace(/\s*%$/, ""), habit);
    case "currency":
      return parseCurrency(typed);
    case "text":
    case "choice":
      return /[\n\r\t]/.test(typed)
        ? { wrong: "must be one line" }
        : { value: typed.replace(/\s+/g, " ") };
  }
}

/** A day in any usual form; numeric ones are read day first and shown back with the month's name. */
export function parseDate(text: string): Parsed {
  const wrong = { wrong: `“${text}” is no date; write 31 Mar 2026, 31.3.2026 or 2026-03-31` };
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  if (iso) return dayOf(iso[1], iso[2], iso[3]) ?? wrong;
  const numeric = /^(\d{1,2})\s*[./-]\s*(\d{1,2})\s*[./-]\s*(\d{4}|\d{2})$/.exec(text);
  if (numeric) {
    const [, first = "", second = "", year = ""] = numeric;
    // 03/31/2026 can only be month first.
    return dayOf(year, second, first) ?? dayOf(year, first, second) ?? wrong;
  }
  const named = /^(\d{1,2})(?:\.|st|nd|rd|th)?\s*(?:of\s+)?([A-Za-zäÄ]+)\.?,?\s*(\d{4}|\d{2})$/i.exec(text);
  if (named) return dayOf(named[3], monthOf(named[2]), named[1]) ?? wrong;
  const monthFirst = /^([A-Za-zäÄ]+)\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/i.exec(text);
  if (monthFirst) return dayOf(monthFirst[3], monthOf(monthFirst[1]), monthFirst[2]) ?? wrong;
  return wrong;
}

function monthOf(name = ""): string {
  return String(MONTHS[name.toLowerCase()] ?? 0);
}

function dayOf(year = "", month = "", day = ""): Parsed | null {
  const full = year.length === 2 ? 2000 + Number(year) : Number(year);
  const [m, d] = [Number(month), Number(day)];
  const date = new Date(Date.UTC(full, m - 1, d));
  const real = date.getUTCFullYear() === full && date.getUTCMonth() === m - 1 && date.getUTCDate() === d;
  if (!real || full < 1990 || full > 2099) return null;
  return { value: `${full}-${String(m).padStart(2, "0")}-${String(d).padStart(2, "0")}` };
}

/** An amount; a currency that stands beside it must be the document's. */
export function parseMoney(text: string, habit: Habit): Parsed {
  const code = /\b([A-Z]{3})\b/.exec(text)?.[1];
  if (code && habit.currency && code !== habit.currency) {
    return { wrong: `is in ${code}, but the document is in ${habit.currency}` };
  }
  if (!habit.currency && !code) return { wrong: "needs the document's currency first" };
  const bare = text.replace(/\b[A-Z]{3}\b/g, "").replace(/[€£$¥]|kr\.?|zł|CHF/g, "").trim();
  const parsed = parseNumber(bare, habit);
  if ("wrong" in parsed) return parsed;
  const currency = code ?? habit.currency;
  const digits = minorDigits(currency);
  const value = new Big(parsed.value);
  if (!value.round(digits).eq(value)) {
    return { wrong: `has more than ${digits} decimals, ${currency} has ${digits}` };
  }
  return { value: value.toFixed(digits) };
}

/** A number with either decimal mark. One mark before three digits is read as the document writes. */
export function parseNumber(text: string, habit: Habit): Parsed {
  const wrong = { wrong: `“${text}” is no number; write 1421.28 or 1.421,28` };
  const shape = /^(\()?\s*([-\u2212+])?\s*(\d[\d.,'\u2019\u00a0\u202f\u2009 ]*?)\s*([-\u2212])?\s*(\))?$/.exec(text);
  if (!shape || Boolean(shape[1]) !== Boolean(shape[5])) return wrong;
  const digits = (shape[3] ?? "").replace(/['\u2019\u00a0\u202f\u2009 ]/g, "'");
  const mark = decimalMark(digits, habit);
  const at = mark ? digits.lastIndexOf(mark) : -1;
  const whole = at >= 0 ? digits.slice(0, at) : digits;
  const fraction = at >= 0 ? digits.slice(at + 1) : "";
  if (!/^\d*$/.test(fraction) || (at >= 0 && !fraction) || !wellGrouped(whole)) return wrong;
  const negative = Boolean(shape[1] ?? shape[4]) || (shape[2] !== undefined && shape[2] !== "+");
  const plain = whole.replace(/\D/g, "").replace(/^0+(?=\d)/, "");
  if (plain.length > 14) return { wrong: `“${text}” is out of range` };
  return { value: `${negative ? "-" : ""}${plain}${fraction ? `.${fraction}` : ""}` };
}

function decimalMark(digits: string, habit: Habit): "." | "," | null {
  const marks = digits.replace(/[^.,]/g, "");
  const last = marks.at(-1) as "." | "," | undefined;
  if (!last) return null;
  if (new Set(marks).size === 2) return last;
  if (marks.length > 1) return null; // 1.234.567
  const tail = digits.length - digits.lastIndexOf(last) - 1;
  if (tail !== 3 || /^0/.test(digits)) return last;
  const usual = writesPoint(habit.language) ? "." : ",";
  return last === usual ? last : null;
}

function wellGrouped(whole: string): boolean {
  const parts = whole.split(/[.,']/);
  if (parts.length === 1) return /^\d+$/.test(whole);
  if (new Set(whole.replace(/\d/g, "")).size !== 1) return false;
  const [first = "", ...rest] = parts;
  return /^\d{1,3}$/.test(first) && rest.every((part) => /^\d{2,3}$/.test(part)) && rest.at(-1)?.length === 3;
}

function parseCurrency(text: string): Parsed {
  const signs: Record<string, string> = { "€": "EUR", "£": "GBP", EURO: "EUR" };
  const code = signs[text.toUpperCase()] ?? text.toUpperCase();
  return /^[A-Z]{3}$/.test(code)
    ? { value: code }
    : { wrong: `“${text}” is no currency code such as EUR or GBP` };
}
