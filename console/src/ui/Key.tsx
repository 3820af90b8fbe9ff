import type { ReactNode } from "react";

/** A key of the keyboard. */
export function Key({ children, on = "sheet" }: { children: ReactNode; on?: "sheet" | "accent" }) {
  const looks = {
    sheet: "border-rule-strong/60 text-ink-soft",
    accent: "border-accent-ink/50 text-accent-ink",
  };
  return (
    <kbd className={`rounded-[3px] border px-1 font-sans text-[11px] font-normal leading-4 ${looks[on]}`}>
      {children}
    </kbd>
  );
}
