import type { ReactNode } from "react";

/** The frame of a place: its name, what belongs beside it, and its content that scrolls. */
export function Place({ title, beside, children, fills = false }: { title: ReactNode; beside?: ReactNode; children: ReactNode; fills?: boolean }) {
  return (
    <main className="grid h-screen min-w-0 grid-rows-[auto_1fr]">
      <header className="flex min-h-16 flex-wrap items-center gap-x-4 gap-y-2 px-6 py-3">
        <h1 className="text-2xl font-semibold tracking-tight">{title}</h1>
        {beside}
      </header>
      <div className={`min-h-0 min-w-0 px-6 pb-6 ${fills ? "grid overflow-hidden" : "overflow-auto"}`}>{children}</div>
    </main>
  );
}

/** A sheet of paper with a heading. */
export function Sheet({ title, beside, children, className = "" }: { title?: ReactNode; beside?: ReactNode; children: ReactNode; className?: string }) {
  return (
    <section className={`min-w-0 rounded-md border border-rule bg-sheet shadow-sheet ${className}`}>
      {title ? (
        <header className="flex min-h-11 items-center gap-3 border-b border-rule px-4">
          <h2 className="font-semibold">{title}</h2>
          <div className="ml-auto flex items-center gap-2">{beside}</div>
        </header>
      ) : null}
      {children}
    </section>
  );
}

/** Names and values beneath each other. */
export function Facts({ facts }: { facts: [string, ReactNode][] }) {
  return (
    <dl className="grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1.5 px-4 py-3">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-ink-soft">{name}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
