import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import type { ReactNode } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { DocumentsOf } from "../../records/DocumentsOf";
import { useList } from "../../records/useList";
import { Facts, Place, Sheet } from "../../ui/Place";
import { Amount, At, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";
import { HeldChanges } from "./HeldChanges";

type Held = Schemas["HeldChange"];

/** What a vendor may have several of, by their names here. */
const KINDS = [["name", "Also called"], ["tax id", "Other tax ids"], ["account", "Accounts"], ["sender", "Writes from"], ["domain", "Domains"], ["address", "Address"], ["payee", "May be paid instead"]] as const;

function Marks({ of }: { of: Schemas["VendorMark"][] }) {
  return (
    <ul>
      {of.map((each) => (
        <li key={each.value} className="break-words">
          {each.value} {each.since ? <span className="text-sm text-ink-soft">since {each.since}</span> : null}
        </li>
      ))}
    </ul>
  );
}

export default function VendorDetail() {
  const { code = "" } = useParams();
  const [address] = useSearchParams();
  const ledger = address.get("ledger");
  const vendor = useQuery({ queryKey: ["vendors", "one", code, ledger], queryFn: () => ask(api.GET("/api/v1/vendors/{code}", { params: { path: { code }, query: ledger ? { ledger } : {} } })) });
  const orders = useList(["orders", { vendor: code }], (page) => ask(api.GET("/api/v1/orders", { params: { query: { vendor: code, ...page } } })));
  return (
    <Place title={vendor.data?.name ?? code} beside={vendor.data ? <Stamp state={vendor.data.gone_at ? "gone" : vendor.data.blocked ? "blocked" : "open"} /> : null}>
      <Fetched from={vendor}>
        {(data) => (
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] items-start gap-4">
            <div className="grid gap-4">
            {data.held.length ? (
              <Sheet title="Waits for a second person">
                <HeldChanges rows={data.held as unknown as Held[]} named={false} />
              </Sheet>
            ) : null}
            <Sheet title="In the master data">
              <Facts
                facts={[
                  ["Code", data.code],
                  ...(data.ledger ? ([["Ledger", data.ledger]] as [string, string][]) : []),
                  ["Tax id", data.tax_id || "none"],
                  ...KINDS.map(([kind, title]): [string, ReactNode] => [title, <Marks key={kind} of={data.marks.filter((each) => each.kind === kind)} />]).filter(([title]) => data.marks.some((each) => KINDS.some(([kind, name]) => name === title && kind === each.kind))),
                  ["Terms", data.terms || "none agreed"],
                  ["Usual tax", [data.treatment, (data.rates as string[]).map((each) => `${each} %`).join(", ")].filter(Boolean).join(" ") || "not said"],
                  ...(data.group ? ([["Group", data.group]] as [string, string][]) : []),
                  ["Country", data.country || "not said"],
                  ["Mail", data.email ? <a key="m" className="underline" href={`mailto:${data.email}`}>{data.email}</a> : "none"],
                  ["Orders", data.needs_order ? "an invoice must name one" : "not needed"],
                  ["As of", <At key="a" time={data.updated_at} />],
                ]}
              />
            </Sheet>
            </div>
            <div className="grid gap-4">
              <DocumentsOf filters={{ vendor: code }} />
              <Sheet title="Orders">
                <Fetched from={orders} lines={3}>
                  {(rows) =>
                    rows.length ? (
                      <ul className="divide-y divide-rule/70">
                        {rows.map((each) => (
                          <li key={each.number} className="flex items-center gap-4 px-4 py-1.5">
                            <Link className="font-semibold hover:underline" to={`/orders/${encodeURIComponent(each.number)}`}>{each.number}</Link>
                            <Day date={each.ordered_on} />
                            <span className="ml-auto"><Amount value={each.net_total} currency={each.currency} /></span>
                            <Stamp state={each.closed ? "closed" : "open"} />
                          </li>
                        ))}
                      </ul>
                    ) : (
                      <p className="px-4 py-3 text-ink-soft">None.</p>
                    )
                  }
                </Fetched>
              </Sheet>
            </div>
          </div>
        )}
      </Fetched>
    </Place>
  );
}
