import type { ComponentProps } from "react";
import { Icon, type Mark } from "./Icon";
import { Key } from "./Key";

type Look = "main" | "quiet" | "bare" | "grave";

interface Props extends ComponentProps<"button"> {
  look?: Look;
  mark?: Mark;
  /** The key that does the same, shown beside the words. */
  keyHint?: string;
  small?: boolean;
}

const LOOKS: Record<Look, string> = {
  main: "bg-accent text-accent-ink hover:brightness-110 border border-transparent",
  quiet: "border border-rule-strong/60 bg-sheet text-ink hover:border-ink-soft hover:bg-sunk",
  bare: "border border-transparent text-ink hover:bg-sunk",
  grave: "border border-brick/60 bg-sheet text-brick hover:bg-brick-soft",
};

export function buttonLook(look: Look, small = false): string {
  const measure = small ? "h-8 px-2.5 text-sm" : "h-9 px-3.5";
  return `inline-flex items-center justify-center gap-2 whitespace-nowrap rounded-[5px] font-semibold disabled:opacity-55 ${measure} ${LOOKS[look]}`;
}

export function Button({ look = "main", mark, keyHint, small = false, className = "", children, ...rest }: Props) {
  return (
    <button type="button" className={`${buttonLook(look, small)} ${className}`} {...rest}>
      {mark ? <Icon mark={mark} /> : null}
      {children}
      {keyHint ? <Key on={look === "main" ? "accent" : "sheet"}>{keyHint}</Key> : null}
    </button>
  );
}

/** A button that shows only its mark; the words are for screen readers and the tip. */
export function MarkButton({ mark, label, className = "", ...rest }: Omit<Props, "children"> & { mark: Mark; label: string }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      className={`inline-grid size-8 place-items-center rounded-[5px] text-ink hover:bg-sunk disabled:opacity-40 aria-pressed:bg-accent-soft ${className}`}
      {...rest}
    >
      <Icon mark={mark} />
    </button>
  );
}
