import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { picture } from "../../records/near";
import type { StoredEvidence } from "../../records/Evidence";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { useKeys } from "../../ui/keys";
import { Amount, Day } from "../../ui/Shown";
import { Fetched } from "../../ui/States";
import type { WorkDocument } from "./work";

/** Bills that this one may be once more: the reasons, and both pages next to each other. */
export function Alike({ document, alike }: { document: WorkDocument; alike: StoredEvidence["alike"] }) {
  const here = alike.filter((each) => !each.in_books);
  const [shown, show] = useState<string | null>(null);
  const first = here[0];
  useKeys(first ? [{ key: "b", does: "Both pages next to each other", run: () => show(first.reference) }] : []);
  if (!alike.length || !document.findings.some((each) => each.code.startsWith("duplicate."))) return null;
  return (
    <section aria-label="Bills alike" className="grid gap-1.5 rounded-[5px] border border-rule bg-sunk/50 px-3 py-2.5">
      <ul className="grid gap-1.5">
        {alike.slice(0, 5).map((each) => (
          <li key={each.reference} className="flex items-start gap-3">
            <span className="min-w-0 flex-1">
              {each.in_books ? <span className="font-semibold">{each.number}</span> : <Link className="font-semibold hover:underline" to={`/documents/${each.reference}`}>{each.number || `document ${each.reference}`}</Link>}{" "}
              <span className="text-ink-soft">{each.in_books ? `${each.reference} in the ledger's books` : each.posted_as ? `posted as ${each.posted_as}` : `document ${each.reference}`}</span>
              <span className="block text-sm text-ink-soft">{each.reasons.join("; ")}</span>
            </span>
            {each.in_books ? null : (
              <Button look="quiet" small mark="columns" {...(each === first ? { keyHint: "B" } : {})} onClick={() => show(each.reference)}>
                Both pages
              </Button>
            )}
          </li>
        ))}
      </ul>
      {shown ? <Beside document={document} other={Number(shown)} reasons={here.find((each) => each.reference === shown)?.reasons ?? []} onClose={() => show(null)} /> : null}
    </section>
  );
}

function Beside({ document, other, reasons, onClose }: { document: WorkDocument; other: number; reasons: readonly string[]; onClose: () => void }) {
  const before = useQuery({ queryKey: ["document", other], queryFn: () => ask(api.GET("/api/v1/documents/{id}", { params: { path: { id: other } } })) });
  return (
    <Dialog open onClose={onClose} title="Is it the same bill?" about={`On the left what came before, on the right this one. They share: ${reasons.join("; ")}.`} whole>
      <Fetched from={before} lines={8}>
        {(earlier) => (
          <div className="grid grid-cols-2 gap-4">
            {[earlier, document].map((each) => (
              <figure key={each.id} className="grid min-w-0 content-start gap-2">
                <figcaption className="flex flex-wrap items-baseline gap-x-3">
                  <span className="font-semibold">{each.number || each.file_name}</span>
                  <Day date={each.issue_date} />
                  <span className="ml-auto">
                    <Amount value={each.gross_total} currency={each.currency} />
                  </span>
                </figcaption>
                {each.pages[0] ? (
                  <img src={picture(each.id, each.pages[0].number, 110)} alt={`First page of ${each.number || each.file_name}`} className="w-full border border-rule bg-sheet" />
                ) : (
                  <p className="text-ink-soft">It has no page to show.</p>
                )}
              </figure>
            ))}
          </div>
        )}
      </Fetched>
    </Dialog>
  );
}
