import Big from "big.js";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, ask } from "../../api/client";
import { price, quantity } from "../../format/show";
import { DocumentsOf } from "../../records/DocumentsOf";
import { Facts, Place, Sheet } from "../../ui/Place";
import { Amount, At, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";

export default function OrderDetail() {
  const { number = "" } = useParams();
  const [address] = useSearchParams();
  const entity = address.get("entity");
  const order = useQuery({ queryKey: ["orders", "one", number, entity], queryFn: () => ask(api.GET("/api/v1/orders/{number}", { params: { path: { number }, query: entity ? { entity } : {} } })) });
  return (
    <Place title={number} beside={order.data ? <Stamp state={order.data.gone_at ? "gone" : order.data.closed ? "closed" : "open"} /> : null}>
      <Fetched from={order}>
        {(data) => (
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] items-start gap-4">
            <Sheet title="Order">
              <Facts
                facts={[
                  ["Vendor", <Link key="v" className="underline" to={`/vendors/${encodeURIComponent(data.vendor)}`}>{data.vendor_name}</Link>],
                  ["Entity", data.entity],
                  ["Ordered", <Day key="d" date={data.ordered_on} />],
                  ["Net total", <Amount key="n" value={data.net_total} currency={data.currency} />],
                  ["As of", <At key="a" time={data.updated_at} />],
                ]}
              />
            </Sheet>
            <div className="grid gap-4">
              <Sheet title="Lines">
                <table className="w-full">
                  <thead className="text-left text-sm text-ink-soft">
                    <tr className="[&>th]:px-3 [&>th]:py-1.5 [&>th]:font-normal">
                      <th scope="col" className="text-right">No.</th>
                      <th scope="col">Item</th>
                      <th scope="col">Description</th>
                      <th scope="col" className="text-right">Quantity</th>
                      <th scope="col">Unit</th>
                      <th scope="col" className="text-right">Unit price</th>
                      <th scope="col" className="text-right">Amount</th>
                      <th scope="col" className="text-right">Invoiced</th>
                      <th scope="col" className="text-right">Open</th>
                    </tr>
                  </thead>
                  <tbody>
                    {data.lines.map((line) => (
                      <tr key={line.position} className="border-t border-rule/70 [&>td]:px-3 [&>td]:py-1.5">
                        <td className="text-right text-ink-soft">{line.position}</td>
                        <td className="whitespace-nowrap">{line.item_code}</td>
                        <td>{line.description}</td>
                        <td className="text-right">{quantity(line.quantity)}</td>
                        <td>{line.unit}</td>
                        <td className="text-right">{price(line.unit_price, data.currency)}</td>
                        <td className="text-right"><Amount value={new Big(line.quantity).times(line.unit_price).toFixed()} currency={data.currency} /></td>
                        <td className="text-right">{quantity(line.invoiced)}</td>
                        <td className={`text-right ${new Big(line.open).lt(0) ? "font-semibold text-amber" : ""}`}>{quantity(line.open)}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </Sheet>
              <DocumentsOf filters={{ order: data.number }} />
            </div>
          </div>
        )}
      </Fetched>
    </Place>
  );
}
