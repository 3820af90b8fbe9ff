import type { ReactNode } from "react";
import { Button } from "./Button";
import { Notice } from "./Notice";

/** Nothing here: what that means and what to do next. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="grid justify-items-center gap-2 px-6 py-14 text-center">
      <p className="text-lg font-semibold">{title}</p>
      {children ? <div className="max-w-prose text-ink-soft">{children}</div> : null}
    </div>
  );
}

/** Lines where text will be, as high as what comes. */
export function Skeleton({ lines = 6 }: { lines?: number }) {
  return (
    <div role="status" aria-label="Loading" className="grid gap-3 p-4">
      {Array.from({ length: lines }, (_, at) => (
        <div key={at} className={`h-4 rounded-[3px] bg-sunk ${["w-full", "w-11/12", "w-4/5"][at % 3]}`} />
      ))}
    </div>
  );
}

/** Something could not be fetched: the reason and a way to try again. */
export function Failure({ error, again }: { error: Error; again?: () => void }) {
  return (
    <div className="p-4">
      <Notice
        kind="wrong"
        act={
          again ? (
            <Button look="quiet" small onClick={again}>
              Try again
            </Button>
          ) : null
        }
      >
        {error.message}
      </Notice>
    </div>
  );
}

interface Asked<T> {
  data: T | undefined;
  error: Error | null;
  refetch: () => unknown;
}

/** One of three: what was asked for, that it is on its way, or why it did not come. */
export function Fetched<T>({ from, lines, children }: { from: Asked<T>; lines?: number; children: (data: T) => ReactNode }) {
  if (from.data !== undefined) return <>{children(from.data)}</>;
  if (from.error) return <Failure error={from.error} again={() => from.refetch()} />;
  return <Skeleton {...(lines ? { lines } : {})} />;
}
