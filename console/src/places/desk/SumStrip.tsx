import Big from "big.js";
import { inHabit } from "../../format/parse";
import { amount } from "../../format/show";
import { Icon } from "../../ui/Icon";
import { cellStanding, standing, tableOf } from "./edits";
import { sums } from "./sums";
import { useWork } from "./work";

const NAMES: Record<string, [made: string, stated: string]> = {
  net: ["Lines", "net"],
  tax: ["Tax lines", "tax"],
  total: ["Net and tax", "total"],
};

/** Whether it adds up, while one types. */
export function SumStrip() {
  const { reading, edits, habit } = useWork();
  // As in the fields above it: the way the document itself writes.
  const written = (plain: string) => inHabit(amount(plain, habit.currency), habit);
  const of = (name: string) => standing(edits, reading, name, habit);
  const cells = (table: "lines" | "tax_lines") =>
    tableOf(edits, reading, table, habit)
      .filter((row) => Object.values(row.cells).some((cell) => cell.text.trim()))
      .map((row) => cellStanding(row, table, "amount", habit));
  const found = sums({
    lines: cells("lines"),
    charges: of("charges"),
    allowances: of("allowances"),
    net: of("net_total"),
    taxes: cells("tax_lines"),
    tax: of("tax_total"),
    gross: of("gross_total"),
  });
  if (!found.length) return <p className="px-4 py-2 text-sm text-ink-soft">No sum can be checked yet: net, tax or total are missing.</p>;
  return (
    <ul aria-label="Sums" className="flex flex-wrap gap-x-6 gap-y-0.5 px-4 py-2 text-sm">
      {found.map((sum) => {
        const off = sum.off === undefined ? null : new Big(sum.off);
        const good = off?.eq(0);
        const [made = sum.name, stated = ""] = NAMES[sum.name] ?? [];
        return (
          <li key={sum.name} className={`flex items-center gap-1.5 ${off === null ? "" : good ? "text-moss" : "font-semibold text-brick"}`}>
            {off === null ? null : <Icon mark={good ? "check" : "stop"} className="size-4" />}
            <span>
              {made} {written(sum.made)}
              {off === null ? "" : good ? ` = ${stated}` : `; ${stated} ${written(off.abs().toFixed())} ${off.gt(0) ? "too high" : "too low"}`}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
