import type { ComponentProps } from "react";

type Props = ComponentProps<"button"> & { look?: "main" | "quiet" };

export function Button({ look = "main", className = "", ...rest }: Props) {
  const looks = {
    main: "bg-accent text-accent-ink hover:brightness-110",
    quiet: "border border-rule bg-sheet text-ink hover:border-ink-soft",
  };
  return (
    <button
      className={`h-10 rounded-md px-4 font-semibold disabled:opacity-60 ${looks[look]} ${className}`}
      {...rest}
    />
  );
}
