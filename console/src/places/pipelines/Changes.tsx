import type { Schemas } from "../../api/client";
import { Icon } from "../../ui/Icon";

/** Differences by meaning; what loosens is marked, in words too. */
export function Changes({ changes }: { changes: Schemas["Change"][] }) {
  if (!changes.length) return <p className="px-4 py-3 text-ink-soft">They mean the same.</p>;
  return (
    <ul className="grid">
      {changes.map((each, at) => (
        <li key={at} className="grid gap-0.5 border-t border-rule/70 px-4 py-2 first:border-t-0">
          <span className="break-words text-sm text-ink-soft">{each.place}</span>
          <span className="break-words">
            {each.before === "nothing" ? <span className="text-ink-soft">nothing</span> : <del className="text-ink-soft">{each.before}</del>} <span aria-hidden>→</span> <ins className="no-underline">{each.after}</ins>
          </span>
          {each.loosens ? (
            <span className="flex gap-2 text-amber"><Icon mark="warn" className="mt-1 size-4 shrink-0" /> loosens: {each.loosens}</span>
          ) : null}
        </li>
      ))}
    </ul>
  );
}
