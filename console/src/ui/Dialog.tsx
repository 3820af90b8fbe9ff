import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { MarkButton } from "./Button";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  /** What this is about, in a sentence. */
  about?: ReactNode;
  children: ReactNode;
  wide?: boolean;
  /** As wide as the window: for things next to each other. */
  whole?: boolean;
}

/**
 * A sheet above the page. Its ground is our own element: the library's would write
 * styles into the page, which the content policy does not allow.
 */
export function Dialog({ open, onClose, title, about, children, wide = false, whole = false }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => (next ? undefined : onClose())}>
      <Radix.Portal>
        <div className="shown-in fixed inset-0 z-40 bg-black/35" />
        <Radix.Content
          {...(about ? {} : { "aria-describedby": undefined })}
          className={`shown-in fixed left-1/2 top-[9vh] z-50 grid max-h-[84vh] w-[calc(100vw-32px)] -translate-x-1/2 grid-rows-[auto_1fr] rounded-lg border border-rule bg-sheet shadow-float ${whole ? "max-w-[1240px]" : wide ? "max-w-3xl" : "max-w-lg"}`}
        >
          <header className="flex items-start gap-4 border-b border-rule px-5 py-3.5">
            <div className="flex-1">
              <Radix.Title className="text-lg font-semibold">{title}</Radix.Title>
              {about ? <Radix.Description className="text-ink-soft">{about}</Radix.Description> : null}
            </div>
            <MarkButton mark="cross" label="Close" onClick={onClose} />
          </header>
          {whole ? (
            // Pictures take no focus: the arrows scroll what holds them.
            <div role="region" aria-label={title} tabIndex={0} className="overflow-auto p-5">
              {children}
            </div>
          ) : (
            <div className="overflow-auto p-5">{children}</div>
          )}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
