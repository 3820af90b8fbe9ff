import type { ReactNode } from "react";
import { Icon, type Mark } from "./Icon";

type Kind = "wrong" | "careful" | "good" | "plain";

const LOOKS: Record<Kind, { mark: Mark; look: string }> = {
  wrong: { mark: "stop", look: "border-brick/50 bg-brick-soft text-brick" },
  careful: { mark: "warn", look: "border-amber/50 bg-amber-soft text-amber" },
  good: { mark: "check", look: "border-moss/50 bg-moss-soft text-moss" },
  plain: { mark: "note", look: "border-rule bg-sheet text-ink-soft" },
};

/** Something to know: never by colour alone. */
export function Notice({ kind, children, act }: { kind: Kind; children: ReactNode; act?: ReactNode }) {
  const { mark, look } = LOOKS[kind];
  return (
    <div
      role={kind === "wrong" ? "alert" : "status"}
      className={`flex items-start gap-2.5 rounded-[5px] border px-3 py-2 ${look}`}
    >
      <Icon mark={mark} className="mt-0.5 size-4.5" />
      <div className="min-w-0 flex-1">{children}</div>
      {act}
    </div>
  );
}
