import type { ReactNode } from "react";

/** Something that went wrong, or a plain remark: never by colour alone. */
export function Notice({ kind, children }: { kind: "wrong" | "plain"; children: ReactNode }) {
  const wrong = kind === "wrong";
  return (
    <p
      role={wrong ? "alert" : "status"}
      className={`rounded-md border px-3 py-2 ${wrong ? "border-brick text-brick" : "border-rule text-ink-soft"}`}
    >
      {wrong ? <span aria-hidden="true">✕ </span> : null}
      {children}
    </p>
  );
}
