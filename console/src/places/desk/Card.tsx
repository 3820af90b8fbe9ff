import { Icon } from "../../ui/Icon";
import type { StoredEvidence } from "../../records/Evidence";

/** Each charge beside what the vendor's rate card says of it. */
export function Card({ lines }: { lines: NonNullable<StoredEvidence["card"]> }) {
  const cards = [...new Set(lines.map((each) => each.card).filter(Boolean))].join(", ");
  return (
    <section aria-label="Rate card" className="rounded-[5px] border border-rule px-3 py-2">
      <h2 className="text-sm text-ink-soft">Rate card {cards}</h2>
      <ul className="grid gap-0.5 pt-1">
        {lines.map((each) => {
          const good = each.verdict === "as agreed" || each.verdict === "below";
          return (
            <li key={each.line} className="grid grid-cols-[16px_52px_minmax(0,1fr)_auto] items-baseline gap-2">
              <Icon mark={good ? "check" : "stop"} className={`size-4 translate-y-0.5 ${good ? "text-moss" : "text-brick"}`} />
              <span className="text-ink-soft">line {each.line}</span>
              <span>
                {each.verdict}
                {each.rate ? <span className="text-ink-soft"> ({each.rate})</span> : null}
              </span>
              <span className="text-right">
                {each.amount}
                {each.due && each.due !== each.amount ? <span className="text-ink-soft">, agreed {each.due}</span> : null}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
