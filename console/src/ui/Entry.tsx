import { Label } from "radix-ui";
import { useId, type ComponentProps, type ReactNode } from "react";

const LINE =
  "w-full rounded-[5px] border border-rule-strong/70 bg-sheet px-2.5 text-ink placeholder:text-ink-soft aria-[invalid=true]:border-brick";

interface Around {
  label: string;
  wrong?: string | undefined;
  hint?: ReactNode;
  /** The label is there for screen readers only. */
  hidden?: boolean;
}

function Labelled({ id, label, wrong, hint, hidden, children }: Around & { id: string; children: ReactNode }) {
  return (
    <div className="grid content-start gap-1">
      <Label.Root htmlFor={id} className={hidden ? "sr-only" : "text-sm text-ink-soft"}>
        {label}
      </Label.Root>
      {children}
      {wrong ? (
        <p id={`${id}-wrong`} role="alert" className="text-sm text-brick">
          {wrong}
        </p>
      ) : hint ? (
        <p id={`${id}-hint`} className="text-sm text-ink-soft">
          {hint}
        </p>
      ) : null}
    </div>
  );
}

function told(id: string, { wrong, hint }: Around) {
  return {
    "aria-invalid": Boolean(wrong),
    ...(wrong ? { "aria-describedby": `${id}-wrong` } : hint ? { "aria-describedby": `${id}-hint` } : {}),
  };
}

/** A labelled line to type into. */
export function Entry({ label, wrong, hint, hidden = false, className = "", ...rest }: ComponentProps<"input"> & Around) {
  const id = useId();
  return (
    <Labelled id={id} label={label} wrong={wrong} hint={hint} hidden={hidden}>
      <input id={id} className={`h-9 ${LINE} ${className}`} {...told(id, { label, wrong, hint })} {...rest} />
    </Labelled>
  );
}

/** A labelled sheet of lines to type into. */
export function Lines({ label, wrong, hint, hidden = false, className = "", ...rest }: ComponentProps<"textarea"> & Around) {
  const id = useId();
  return (
    <Labelled id={id} label={label} wrong={wrong} hint={hint} hidden={hidden}>
      <textarea id={id} className={`py-1.5 ${LINE} ${className}`} {...told(id, { label, wrong, hint })} {...rest} />
    </Labelled>
  );
}

/** A labelled choice of one among few. The browser's own: it works everywhere, by every means. */
export function Choice({ label, wrong, hint, hidden = false, className = "", children, ...rest }: ComponentProps<"select"> & Around) {
  const id = useId();
  return (
    <Labelled id={id} label={label} wrong={wrong} hint={hint} hidden={hidden}>
      <select id={id} className={`h-9 ${LINE} ${className}`} {...told(id, { label, wrong, hint })} {...rest}>
        {children}
      </select>
    </Labelled>
  );
}
