import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../../api/client";
import { Icon } from "../../ui/Icon";
import type { WorkDocument } from "./work";

/** What the ledger lists under its number or order: what is open beside what the bill asks for. */
export function InLedger({ document }: { document: WorkDocument }) {
  const found = useQuery({
    queryKey: ["in ledger", document.id, document.version],
    queryFn: () => ask(api.GET("/api/v1/documents/{id}/in-ledger", { params: { path: { id: document.id } } })),
  });
  if (!found.data?.length) return null;
  return (
    <section aria-label="In the ledger" className="rounded-[5px] border border-rule px-3 py-2">
      <h2 className="text-sm text-ink-soft">In the ledger, as it was listed last</h2>
      <ul className="grid gap-0.5 pt-1">
        {found.data.map((each) => (
          <li key={each.booked_as} className="flex items-start gap-2">
            <Icon mark={each.equal ? "check" : each.equal === null ? "note" : "warn"} className={`mt-0.5 size-4 shrink-0 ${each.equal ? "text-moss" : "text-amber"}`} />
            <span>
              {each.said} <span className="text-sm text-ink-soft">{each.own ? "Posted from this document." : `Found by ${each.how}.`}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
