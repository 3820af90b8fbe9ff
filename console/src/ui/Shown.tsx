/** Values on the page, in the one form that they have everywhere. */
import { amount, day, exactly, age as ageOf, moment } from "../format/show";

/** An amount with its currency; nothing at all where there is none. */
export function Amount({ value, currency }: { value: string | null | undefined; currency: string }) {
  if (value === null || value === undefined) return <span className="text-ink-soft">–</span>;
  return (
    <span className="whitespace-nowrap">
      {amount(value, currency)} <span className="text-[0.85em] text-ink-soft">{currency}</span>
    </span>
  );
}

/** A moment in the reader's zone; the exact time on hover. */
export function At({ time, seconds = false }: { time: string | null | undefined; seconds?: boolean }) {
  if (!time) return <span className="text-ink-soft">never</span>;
  return (
    <time dateTime={time} title={exactly(time)} className="whitespace-nowrap">
      {moment(time, new Date(), seconds)}
    </time>
  );
}

/** How long ago; the exact time on hover. */
export function Age({ since }: { since: string }) {
  return (
    <time dateTime={since} title={exactly(since)} className="whitespace-nowrap">
      {ageOf(since)}
    </time>
  );
}

export function Day({ date }: { date: string | null | undefined }) {
  return <span className="whitespace-nowrap">{date ? day(date) : <span className="text-ink-soft">–</span>}</span>;
}
