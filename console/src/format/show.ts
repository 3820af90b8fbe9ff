/** Values as people read them. The console speaks English; times are those of the browser's zone. */

const LOCALE = "en-GB";
const MINOR = new Map<string, number>();

/** Digits after the point that a currency is written with (ISO 4217, as the browser knows it). */
export function minorDigits(currency: string): number {
  let digits = MINOR.get(currency);
  if (digits === undefined) {
    try {
      const form = new Intl.NumberFormat(LOCALE, { style: "currency", currency });
      digits = form.resolvedOptions().maximumFractionDigits ?? 2;
    } catch {
      digits = 2;
    }
    MINOR.set(currency, digits);
  }
  return digits;
}

/** `1421.28` as `1,421.28`: exact, with the currency's digits but never fewer than are there. */
export function amount(plain: string, currency: string): string {
  return grouped(plain, minorDigits(currency));
}

/** A quantity or price without zeros that say nothing: `30.000000` as `30`. */
export function quantity(plain: string): string {
  return grouped(trimmed(plain), 0);
}

/** A unit price: at least the digits of its currency. */
export function price(plain: string, currency: string): string {
  return grouped(trimmed(plain), minorDigits(currency));
}

function trimmed(plain: string): string {
  return plain.includes(".") ? plain.replace(/0+$/, "").replace(/\.$/, "") : plain;
}

function grouped(plain: string, atLeast: number): string {
  const negative = plain.startsWith("-");
  const [whole = "0", fraction = ""] = plain.replace(/^[-+]/, "").split(".");
  const cut = fraction.replace(/0+$/, "").padEnd(atLeast, "0");
  const parts = whole.replace(/^0+(?=\d)/, "").replace(/\B(?=(\d{3})+$)/g, ",");
  return `${negative ? "\u2212" : ""}${parts}${cut ? `.${cut}` : ""}`;
}

// Made once: making a formatter takes longer than a thousand uses of it.
const form = (options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(LOCALE, options);
const DAY = form({ day: "numeric", month: "short", year: "numeric" });
const DAY_OF_YEAR = form({ day: "numeric", month: "short" });
const TIME = form({ hour: "2-digit", minute: "2-digit" });
const TIME_WITH_SECONDS = form({ hour: "2-digit", minute: "2-digit", second: "2-digit" });
const EXACT = form({ dateStyle: "full", timeStyle: "long" });

/** `2026-11-05` as `5 Nov 2026`: no order of day and month to guess. */
export function day(iso: string): string {
  const date = new Date(`${iso}T00:00:00`);
  return Number.isNaN(date.getTime()) ? iso : DAY.format(date);
}

/** A moment: the time alone when it is today, else with the day. */
export function moment(iso: string, now = new Date(), seconds = false): string {
  const at = new Date(iso);
  const time = (seconds ? TIME_WITH_SECONDS : TIME).format(at);
  if (at.toDateString() === now.toDateString()) return time;
  const date = (at.getFullYear() === now.getFullYear() ? DAY_OF_YEAR : DAY).format(at);
  return `${date}, ${time}`;
}

/** A moment to the second with its zone, for those who want to know exactly. */
export function exactly(iso: string): string {
  return EXACT.format(new Date(iso));
}

/** How long ago, in the one unit that matters. */
export function age(iso: string, now = Date.now()): string {
  return span(Math.round(Math.max(0, (now - new Date(iso).getTime()) / 1000)));
}

/** Seconds as people say them. */
export function span(seconds: number): string {
  if (seconds < 10) return `${Number(seconds.toFixed(1))} s`;
  if (seconds < 60) return `${Math.round(seconds)} s`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min`;
  if (seconds < 48 * 3600) return `${Math.floor(seconds / 3600)} h`;
  return `${Math.floor(seconds / 86400)} days`;
}

/** `1 document`, `2 documents`, `1,200 documents`. */
export function counted(count: number, thing: string, things = `${thing}s`): string {
  return `${count.toLocaleString(LOCALE)} ${count === 1 ? thing : things}`;
}

/** A share of a whole, rounded down so that 100 % means all. */
export function percent(part: number, whole: number): string {
  return whole === 0 ? "none yet" : `${Math.floor((100 * part) / whole)} %`;
}

/** Size of a file. */
export function size(bytes: number): string {
  if (bytes < 1000) return counted(bytes, "byte");
  const units = ["kB", "MB", "GB"];
  let value = bytes / 1000;
  let unit = 0;
  while (value >= 999.5 && unit < units.length - 1) {
    value /= 1000;
    unit += 1;
  }
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${units[unit]}`;
}

/** `at_desk` as `at the desk`: names of the service as words. */
export function words(name: string): string {
  const known: Record<string, string> = { at_desk: "at the desk", with_approver: "with approver" };
  return known[name] ?? name.replaceAll("_", " ");
}

/** The person behind `person:ada`; parts of the service keep their name. */
export function actor(name: string): string {
  const [kind, who = name] = name.split(":");
  return kind === "system" ? `Veridox (${who})` : who;
}
