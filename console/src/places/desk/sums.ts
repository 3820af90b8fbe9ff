/** The sums that must hold (EN 16931 BR-CO-10, -13, -14, -15), computed exactly while one types. */
import Big from "big.js";

export interface Amounts {
  lines: (string | undefined)[];
  charges?: string | undefined;
  allowances?: string | undefined;
  net?: string | undefined;
  taxes: (string | undefined)[];
  tax?: string | undefined;
  gross?: string | undefined;
}

export interface Sum {
  name: string;
  /** What the parts make. */
  made: string;
  /** What is stated, when it is. */
  stated?: string;
  /** Stated minus made; zero when it holds. */
  off?: string;
}

function total(parts: (string | undefined)[]): Big {
  return parts.reduce((sum, part) => (part ? sum.plus(part) : sum), new Big(0));
}

function sum(name: string, made: Big, stated: string | undefined): Sum {
  if (stated === undefined) return { name, made: made.toFixed() };
  return { name, made: made.toFixed(), stated, off: new Big(stated).minus(made).toFixed() };
}

/** Only sums whose parts are known; a line without an amount leaves the lines out. */
export function sums(amounts: Amounts): Sum[] {
  const found: Sum[] = [];
  if (amounts.lines.length && amounts.lines.every((each) => each !== undefined)) {
    const made = total(amounts.lines).plus(amounts.charges ?? 0).minus(amounts.allowances ?? 0);
    found.push(sum("net", made, amounts.net));
  }
  if (amounts.taxes.length && amounts.taxes.every((each) => each !== undefined)) {
    found.push(sum("tax", total(amounts.taxes), amounts.tax));
  }
  if (amounts.net !== undefined && amounts.tax !== undefined) {
    found.push(sum("total", total([amounts.net, amounts.tax]), amounts.gross));
  }
  return found;
}
