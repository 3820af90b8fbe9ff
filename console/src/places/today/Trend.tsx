import type { Schemas } from "../../api/client";
import { day } from "../../format/show";

const HIGH = 56;

/** Two weeks as bars: what came in, and how much of it was posted, untouched or by hand. */
export function Trend({ days }: { days: Schemas["Trend"][] }) {
  const most = Math.max(1, ...days.map((each) => Math.max(each.came_in, each.posted)));
  const high = (count: number) => Math.round((count / most) * HIGH);
  const said = days.map((each) => `${day(each.day)}: ${each.came_in} came in, ${each.posted} posted, ${each.untouched} untouched`);
  return (
    <figure className="border-t border-rule px-4 py-3">
      <div role="img" aria-label={`The last ${days.length} days. ${said.join(". ")}`} className="flex h-[56px] items-end gap-1">
        {days.map((each, at) => (
          <div key={each.day} title={said[at]} className="relative flex h-full flex-1 items-end justify-center gap-px">
            <div className="w-1/3 min-w-1 rounded-t-[2px] bg-rule-strong/70" style={{ height: high(each.came_in) }} />
            <div className="flex w-1/3 min-w-1 flex-col justify-end">
              <div className="bg-amber" style={{ height: high(each.posted - each.untouched) }} />
              <div className="bg-moss" style={{ height: high(each.untouched) }} />
            </div>
          </div>
        ))}
      </div>
      <figcaption className="mt-1.5 flex flex-wrap gap-x-4 border-t border-rule/70 pt-1.5 text-[13px] text-ink-soft">
        <span>{day(days[0]?.day ?? "")} to {day(days.at(-1)?.day ?? "")}</span>
        <Legend look="bg-rule-strong/70">came in</Legend>
        <Legend look="bg-moss">posted untouched</Legend>
        <Legend look="bg-amber">posted by hand</Legend>
      </figcaption>
    </figure>
  );
}

function Legend({ look, children }: { look: string; children: string }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <span aria-hidden="true" className={`size-2.5 rounded-[2px] ${look}`} />
      {children}
    </span>
  );
}
