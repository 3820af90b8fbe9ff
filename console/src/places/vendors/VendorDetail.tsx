import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, ask } from "../../api/client";
import { DocumentsOf } from "../../records/DocumentsOf";
import { useList } from "../../records/useList";
import { Facts, Place, Sheet } from "../../ui/Place";
import { Amount, At, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";

export default function VendorDetail() {
  const { code = "" } = useParams();
  const vendor = useQuery({ queryKey: ["vendors", "one", code], queryFn: () => ask(api.GET("/api/v1/vendors/{code}", { params: { path: { code } } })) });
  const orders = useList(["orders", { vendor: code }], (page) => ask(api.GET("/api/v1/orders", { params: { query: { vendor: code, ...page } } })));
  return (
    <Place title={vendor.data?.name ?? code} beside={vendor.data ? <Stamp state={vendor.data.blocked ? "blocked" : "open"} /> : null}>
      <Fetched from={vendor}>
        {(data) => (
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] items-start gap-4">
            <Sheet title="In the master data">
              <Facts
                facts={[
                  ["Code", data.code],
                  ["Tax id", data.tax_id || "none"],
                  ["Country", data.country || "not said"],
                  ["Mail", data.email ? <a key="m" className="underline" href={`mailto:${data.email}`}>{data.email}</a> : "none"],
                  ["Orders", data.needs_order ? "an invoice must name one" : "not needed"],
                  ["As of", <At key="a" time={data.updated_at} />],
                ]}
              />
            </Sheet>
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
